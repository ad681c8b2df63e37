import type { RevisionEffectView } from '../answers/plan.ts';
import { type Amount, amountOf, type VolumeSum } from './volumes.ts';

const minute = 60_000;
const day = 86_400_000;

/** The whole minutes of a stretch (milliseconds), from its second one on; undefined where there is none. */
export function wholeMinutes(from: number, until: number): { readonly from: number; readonly to: number } | undefined {
  const start = Math.ceil(from / minute) * minute;
  const end = Math.floor(until / minute) * minute;
  return end > start ? { from: start, to: end } : undefined;
}

/** What sums of the ledger (by outcome and parsed) over a stretch come to in a day; null where nothing arrived. */
export function measuredEffect(
  sums: readonly VolumeSum[],
  stretch: { readonly from: number; readonly to: number },
): RevisionEffectView | null {
  const length = stretch.to - stretch.from;
  const amounts = {
    arrived: amountOf(sums),
    kept: amountOf(sums.filter(({ outcome }) => outcome === 'kept')),
    parsed: amountOf(sums.filter(({ parsed }) => parsed)),
  };
  return effectOf(amounts, length);
}

/** Shortest stretch that a day is told from, in milliseconds. */
const shortest = 5_000;

/** What was counted since a revision came into force (milliseconds), as a day; null where nothing arrived. */
export function freshEffect(
  counted: { readonly since: number; readonly arrived: Amount; readonly kept: Amount; readonly parsed: Amount },
  now: number,
): RevisionEffectView | null {
  return effectOf(counted, Math.max(now - counted.since, shortest));
}

function effectOf(
  { arrived, kept, parsed }: { readonly arrived: Amount; readonly kept: Amount; readonly parsed: Amount },
  length: number,
): RevisionEffectView | null {
  if (arrived.events === 0) return null;
  const daily = ({ events, bytes }: Amount): Amount => ({
    events: (events * day) / length,
    bytes: (bytes * day) / length,
  });
  return {
    minutes: length / minute,
    arrived: daily(arrived),
    kept: daily(kept),
    parsedShare: parsed.events / arrived.events,
  };
}
