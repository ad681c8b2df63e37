import type { RevisionEffectView } from '../answers/plan.ts';
import { day, minute } from '../events/time-units.ts';
import type { RehearsedFlow } from '../rehearsal/flows.ts';
import type { HourSpread, ShapeSpreads } from '../rehearsal/hour-spreads.ts';
import type { RehearsalSource } from '../rehearsal/rehearsal-answer.ts';
import { amountOf, type VolumeSum } from '../routing/volume-sums.ts';
import { grouped } from '../tables/grouped.ts';

/** A revision is compared over its first days at most (milliseconds): by then it is known, and what it brought is as it stays. */
const longest = 7 * day;

/** The whole minutes of a stretch (milliseconds), from its second one on; undefined where there is none. */
export function wholeMinutes(from: number, until: number): { readonly from: number; readonly to: number } | undefined {
  const start = Math.ceil(from / minute) * minute;
  const end = Math.floor(until / minute) * minute;
  return end > start ? { from: start, to: end } : undefined;
}

/** The stretch over which a revision is compared with its prediction; undefined before its first whole minute is over. */
export function comparedStretch(
  publishedAt: number,
  until: number,
): { readonly from: number; readonly to: number } | undefined {
  return wholeMinutes(publishedAt, Math.min(until, publishedAt + longest));
}

/** What a rehearsal found by source, as it is noted with the revision. */
export interface NotedPrediction {
  readonly sources: readonly Pick<RehearsalSource, 'id' | 'liveParsed' | 'draftParsed'>[];
  readonly flows: readonly RehearsedFlow[];
  /** Absent with revisions from before they were noted; empty where less than a day was rehearsed. */
  readonly hours?: readonly HourSpread[] | undefined;
  /** The shapes of which it keeps something else; absent with revisions from before they were noted. */
  readonly shapeHours?: readonly ShapeSpreads[] | undefined;
  readonly promised?: PromisedSaving | undefined;
}

/** What a rehearsal said that a plan saves in 30 days at the prices of that time, in coins; negative where it costs more. */
export interface PromisedSaving {
  readonly coins: number;
  /** Half of the 95 % band. */
  readonly band: number;
  /** The sign of the currency. */
  readonly sign: string;
}

/**
 * A prediction beside what came of it, over the same events: `came` are sums of the ledger by source, outcome and parsed since
 * the revision was published, and both plans are taken to do with the volume of each source what they did in the rehearsal. So
 * hours, weekdays and the mix of sources are the same on both sides. Sources that the rehearsal did not have are left out.
 */
export function revisionEffect(
  { sources, flows }: NotedPrediction,
  came: readonly VolumeSum[],
  stretch: { readonly from: number; readonly to: number },
): RevisionEffectView {
  const kept = { before: 0, predicted: 0, measured: 0 };
  const parsed = { before: 0, predicted: 0, measured: 0 };
  let arrived = { events: 0, bytes: 0 };
  const flowsOf = grouped(flows, ({ place: [source] }) => source);
  const cameOf = grouped(came, ({ source = '' }) => source);
  for (const { id, liveParsed, draftParsed } of sources) {
    const ofSource = cameOf.get(id) ?? [];
    const { live, draft } = keptShares(flowsOf.get(id) ?? []);
    const { events, bytes } = amountOf(ofSource);
    arrived = { events: arrived.events + events, bytes: arrived.bytes + bytes };
    kept.before += bytes * live;
    kept.predicted += bytes * draft;
    kept.measured += amountOf(ofSource.filter(({ outcome }) => outcome === 'kept')).bytes;
    parsed.before += events * liveParsed;
    parsed.predicted += events * draftParsed;
    parsed.measured += amountOf(ofSource.filter((sum) => sum.parsed)).events;
  }
  const rehearsed = new Set(sources.map(({ id }) => id));
  const newSources = [...cameOf.keys()].filter((source) => !rehearsed.has(source)).sort();
  return { ...stretch, arrived, kept, parsed, newSources };
}

/** Of the bytes of a source, the share that each plan kept in the rehearsal, 0 to 1. */
function keptShares(ofSource: readonly RehearsedFlow[]): { readonly live: number; readonly draft: number } {
  const share = (of: 'live' | 'draft'): number => {
    const sum = (list: readonly RehearsedFlow[]): number => list.reduce((all, flow) => all + flow[of].bytes, 0);
    const all = sum(ofSource);
    return all > 0 ? sum(ofSource.filter(({ place: [, outcome] }) => outcome === 'kept')) / all : 0;
  };
  return { live: share('live'), draft: share('draft') };
}
