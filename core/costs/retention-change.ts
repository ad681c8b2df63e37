import { graceTime } from '../plan/retention.ts';
import { dayOf } from './calendar.ts';
import { added, type CostParts, type CostSetting, CostTable, noCost } from './cost-table.ts';
import type { DaySeries } from './day-series.ts';
import { type KeptSince, retentionHistory } from './retention-history.ts';

/** Days of a rhythm: what comes is taken to go on as in the last full one. */
const week = 7;
/** Longest time that is looked ahead, in days. */
const farthest = 3_700;

/** What a tier costs in a week before its retention is changed, and when that has settled. */
export interface RetentionCost {
  /** The last full week. */
  readonly now: CostParts;
  /** The first week that is as all that follow. */
  readonly settled: CostParts;
  /** The first day of that week; what is shortened has gone by then, what is kept for longer has grown to what it will be. */
  readonly settledOn: number;
}

/** A tier that is to keep for another time from `now` on; times in milliseconds. */
export interface RetentionChange {
  readonly tier: string;
  readonly keep: number;
  readonly now: number;
}

/**
 * What a change of a tier's retention comes to, if what comes goes on as in the last full week. `stretches` are what tiers kept
 * for how long since when. Undefined where less than a week is known of the tier, or it settles beyond ten years.
 */
export function retentionCost(
  series: readonly DaySeries[],
  of: CostSetting,
  stretches: ReadonlyMap<string, readonly KeptSince[]>,
  { tier, keep, now }: RetentionChange,
): RetentionCost | undefined {
  const today = dayOf(now);
  const kept = series.filter((one) => one.tier === tier && one.outcome === 'kept');
  if (!kept.some(({ from, events }) => hasBefore(events, today - week - from + 1))) return undefined;
  const known = stretches.get(tier) ?? [];
  const before = known.at(-1)?.keep ?? 0;
  const since = keep < before ? now + graceTime : now;
  const settledOn = dayOf(keep < before ? since : now + keep - before) + 1;
  if (settledOn - today > farthest) return undefined;
  const end = settledOn + week;
  const going = kept.map((one) => goingOn(one, today, end));
  const changed = new Map([...stretches, [tier, keep === before ? known : [...known, { since, keep }]]]);
  const setting = { ...of, retention: retentionHistory(changed) };
  const lastWeek = costOf(kept, today - week, today, of);
  const settled = costOf(going, settledOn, end, setting);
  // What comes in is received all the same; its discount is another one in another week of a month.
  return { now: lastWeek, settled: { ...settled, received: lastWeek.received }, settledOn };
}

/** Whether anything came in the first so many days of figures. */
function hasBefore(figures: Float64Array, days: number): boolean {
  return figures.subarray(0, Math.max(0, days)).some((value) => value > 0);
}

function costOf(series: readonly DaySeries[], from: number, to: number, of: CostSetting): CostParts {
  const table = new CostTable(from, to, of);
  for (const one of series) table.add('', one);
  return table.byDay().reduce(added, noCost);
}

/** A series as it was up to today, and from then on as in its last full week. */
function goingOn(series: DaySeries, today: number, end: number): DaySeries {
  const { from } = series;
  const length = Math.max(0, end - from);
  const over = (figures: Float64Array): Float64Array => {
    const going = new Float64Array(length);
    going.set(figures.subarray(0, Math.min(figures.length, Math.max(0, today - from))));
    for (let at = Math.max(0, today - from); at < length; at++) going[at] = going[at - week] ?? 0;
    return going;
  };
  return { ...series, events: over(series.events), bytes: over(series.bytes), stored: over(series.stored) };
}
