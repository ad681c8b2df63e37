import { evenShare } from '#core/sketches/even-share.ts';
import type { ComparedPeriods, Period } from '#core/why/periods.ts';
import type { SampledRef } from '../workers/tasks/why-sample.ts';
import type { JudgedSegment } from './judged-segments.ts';

/** Rows that are compared, of the time since a change and of all times before: more would tell hardly more. */
const rowsOfSide = 16_000;
/** Events of segments that are opened for each of both: of longer times some segments are, evenly. */
const openedOfSide = 240_000;

/** Most sources and tiers of all times together: of many, fewer times before are looked at, three at least. */
const mostStrata = 60;
const fewestBefore = 3;

/** A judged segment, and when its events happened (milliseconds, `to` inclusive). */
export type TimedSegment = JudgedSegment & { readonly from: number; readonly to: number };

/** What is taken of which segment; and how many events of its source and tier each event of it stands for. */
export interface PlannedSample {
  readonly segment: SampledRef;
  readonly standsFor: number;
}

/**
 * Which segments are opened to compare times: all, or of each source and tier some that lie evenly over the time (stratified sampling,
 * W. G. Cochran 1977), one at least. Events are taken to lie evenly within their segment.
 */
export function plannedSamples(
  segments: readonly TimedSegment[],
  { since, before }: ComparedPeriods,
): readonly PlannedSample[] {
  return [since, ...before].flatMap((period, number) => {
    const sides = number === 0 ? 1 : before.length;
    // A time that someone chose may be shorter than the one it is compared with.
    const longer = (since.to - since.from) / (period.to - period.from);
    return samplesOf(segments, period, number, { rows: rowsOfSide / sides, opened: openedOfSide / sides, longer });
  });
}

/** What is compared where so many segments lie side by side: times before are left out, those longest ago first. */
export function fewerPeriods(segments: readonly TimedSegment[], { since, before }: ComparedPeriods): ComparedPeriods {
  const strata = new Set(segments.map(({ source, tier }) => `${source}|${tier}`)).size;
  return { since, before: before.slice(0, Math.max(fewestBefore, Math.floor(mostStrata / Math.max(1, strata)))) };
}

function samplesOf(
  segments: readonly TimedSegment[],
  period: Period,
  number: number,
  most: { readonly rows: number; readonly opened: number; readonly longer: number },
): readonly PlannedSample[] {
  const within = segments
    .filter(({ from, to }) => from < period.to && to >= period.from)
    .map((segment) => ({ segment, events: segment.events * overlap(segment, period) }));
  const opened = within.reduce((sum, { segment }) => sum + segment.events, 0);
  const share = Math.min(1, most.opened / Math.max(1, opened));
  const strata = new Map<string, typeof within>();
  for (const one of within) {
    const key = `${one.segment.source}|${one.segment.tier}`;
    strata.set(key, [...(strata.get(key) ?? []), one]);
  }
  const chosen = [...strata.values()].flatMap((stratum) => {
    const sorted = stratum.toSorted((a, b) => a.segment.from - b.segment.from);
    const middle = sorted.length >> 1;
    const even = evenShare(sorted, share);
    const some = even.length > 0 ? even : sorted.slice(middle, middle + 1);
    const standsFor = eventsIn(sorted) / eventsIn(some);
    return some.map((one) => ({ ...one, standsFor }));
  });
  const events = chosen.reduce((sum, one) => sum + one.events * one.standsFor, 0);
  return chosen.map(({ segment: { id, tier, source, events: rows }, events: here, standsFor }) => ({
    standsFor: standsFor * most.longer,
    segment: {
      ...{ id, tier, source, events: rows, period: number, from: period.from, to: period.to },
      most: Math.max(fewestRows, Math.ceil((most.rows * here * standsFor) / Math.max(1, events))),
    },
  }));
}

function eventsIn(some: readonly { readonly events: number }[]): number {
  return some.reduce((sum, { events }) => sum + events, 0);
}

/** Fewest rows that are taken of a segment. */
const fewestRows = 20;

/** The part of a segment's time that lies in a period. */
function overlap({ from, to }: TimedSegment, period: Period): number {
  return (Math.min(to + 1, period.to) - Math.max(from, period.from)) / (to + 1 - from);
}
