import { evenShare } from '#core/sketches/even-share.ts';
import type { ComparedPeriods, Period } from '#core/why/periods.ts';
import type { SampledRef } from '../workers/tasks/why-sample.ts';
import type { JudgedSegment } from './judged-segments.ts';

/** Most sampled rows on each side; more would hardly improve the result. */
const rowsOfSide = 16_000;
/** Most events in opened segments on each side; of more segments, some are opened. */
const openedOfSide = 240_000;

/** Most strata (a source in a tier) over all periods; with more, fewer earlier periods are compared, but at least three. */
const mostStrata = 60;
const fewestBefore = 3;

/** A judged segment with the time range of its events (milliseconds, `to` inclusive). */
export type TimedSegment = JudgedSegment & { readonly from: number; readonly to: number };

/** A segment to sample, and how many events of its stratum each of its events represents. */
export interface PlannedSample {
  readonly segment: SampledRef;
  readonly standsFor: number;
}

/**
 * Which segments to sample: all, or for long periods an even selection from each source and tier, at least one (stratified sampling, W. G.
 * Cochran 1977). Assumes that events are evenly distributed within a segment.
 */
export function plannedSamples(
  segments: readonly TimedSegment[],
  { since, before }: ComparedPeriods,
): readonly PlannedSample[] {
  return [since, ...before].flatMap((period, number) => {
    const sides = number === 0 ? 1 : before.length;
    // A chosen baseline may be shorter than the window.
    const longer = (since.to - since.from) / (period.to - period.from);
    return samplesOf(segments, period, number, { rows: rowsOfSide / sides, opened: openedOfSide / sides, longer });
  });
}

/** The periods to compare, without the oldest ones if there are many strata. */
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

/** Fewest rows sampled from a segment. */
const fewestRows = 20;

/** The fraction of a segment's time range that lies in a period. */
function overlap({ from, to }: TimedSegment, period: Period): number {
  return (Math.min(to + 1, period.to) - Math.max(from, period.from)) / (to + 1 - from);
}
