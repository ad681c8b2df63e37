import type { TimelinePoint, TimelineRow } from '../answers/plan.ts';
import { day, hour } from '../events/time-units.ts';
import type { HourSpread, ShapeSpreads } from '../rehearsal/hour-spreads.ts';
import { slotCount } from '../rehearsal/transitions.ts';
import type { VolumeSum } from '../routing/volume-sums.ts';
import { studentQuantile } from '../sketches/student.ts';

/** How long a revision is shown by the hour, and in total (milliseconds). */
const byHour = day;
const longest = 14 * day;

/** The complete intervals of a revision, an hour or a day each (milliseconds). */
export interface TimelineStretch {
  readonly from: number;
  readonly to: number;
  readonly every: number;
}

/** The complete intervals from a publication until a time, at most two weeks (milliseconds); undefined before the first has ended. */
export function timelineStretch(publishedAt: number, until: number): TimelineStretch | undefined {
  const end = Math.min(until, publishedAt + longest);
  const first = Math.ceil(publishedAt / hour) * hour;
  const every = end - first > byHour + hour && firstDay(publishedAt) + day <= end ? day : hour;
  const from = every === day ? firstDay(publishedAt) : first;
  const to = Math.floor(end / every) * every;
  return to > from ? { from, to, every } : undefined;
}

function firstDay(publishedAt: number): number {
  return Math.ceil(publishedAt / day) * day;
}

/** What a rehearsal predicts of a revision: its sources, and how much of them each tier keeps. */
export interface TimelinePrediction {
  readonly sources: readonly string[];
  readonly hours: readonly HourSpread[];
}

/** The complete intervals that are shown, and which of them are excluded. */
export interface TimelineIntervals extends TimelineStretch {
  readonly isLeftOut: (start: number) => boolean;
}

/**
 * Predicted and measured volume in total, by tier and by source. `came` are ledger sums by source, outcome and tier in intervals of
 * `every`. The prediction applies the shares of the rehearsal to the volume that arrived in the interval; its 95 % band follows from how
 * much these shares varied by the hour. Excludes sources that the rehearsal did not have, and intervals that are left out.
 */
export function revisionTimeline(
  { sources, hours }: TimelinePrediction,
  came: readonly VolumeSum[],
  intervals: TimelineIntervals,
): readonly TimelineRow[] {
  const known = new Set(sources);
  const ofKnown = came.filter(({ source = '' }) => known.has(source));
  const kept = ofKnown.filter(({ outcome }) => outcome === 'kept');
  const arrived = arrivals(ofKnown);
  const row = (kind: TimelineRow['kind'], id: string, isMeant: (of: Partial<HourSpread>) => boolean): TimelineRow => ({
    ...{ kind, id, line: '' },
    points: pointsOf(hours.filter(isMeant), arrived, kept.filter(isMeant), intervals),
  });
  const tiers = [...new Set([...hours, ...kept].map(({ tier = '' }) => tier))];
  return [
    row('all', '', () => true),
    ...tiers.map((id) => row('tier', id, ({ tier }) => tier === id)),
    ...sources.map((id) => row('source', id, ({ source }) => source === id)),
  ];
}

/** The same of shapes; `came` are sums by shape, source, outcome and tier, and `lineOf` gives an example line of a shape. */
export function shapeTimeline(
  { sources, shapes }: Pick<TimelinePrediction, 'sources'> & { readonly shapes: readonly ShapeSpreads[] },
  came: ReadonlyMap<string, readonly VolumeSum[]>,
  intervals: TimelineIntervals,
  lineOf: (shape: string) => string,
): readonly TimelineRow[] {
  const known = new Set(sources);
  return shapes.map(({ shape, hours }) => {
    const ofShape = (came.get(shape) ?? []).filter(({ source = '' }) => known.has(source));
    const kept = ofShape.filter(({ outcome }) => outcome === 'kept');
    const points = pointsOf(hours, arrivals(ofShape), kept, intervals);
    return { kind: 'shape', id: shape, line: lineOf(shape), points };
  });
}

/** Bytes that arrived from a source in the interval with a start. */
type Arrivals = (start: number, source: string) => number;

function arrivals(sums: readonly VolumeSum[]): Arrivals {
  const bytes = bytesBy(sums, ({ start, source }) => `${start} ${source}`);
  return (start, source) => bytes.get(`${start} ${source}`) ?? 0;
}

function pointsOf(
  hours: readonly HourSpread[],
  arrived: Arrivals,
  kept: readonly VolumeSum[],
  { from, to, every, isLeftOut }: TimelineIntervals,
): readonly TimelinePoint[] {
  const measured = bytesBy(kept, ({ start }) => String(start));
  const points: TimelinePoint[] = [];
  for (let start = from; start < to; start += every) {
    if (isLeftOut(start)) continue;
    const prediction = predictionOf(hours, (source) => arrived(start, source), every);
    points.push({ start, measured: measured.get(String(start)) ?? 0, ...prediction });
  }
  return points;
}

/** The predicted bytes of an interval with the half-width of their band. */
function predictionOf(
  hours: readonly HourSpread[],
  arrivedFrom: (source: string) => number,
  every: number,
): Pick<TimelinePoint, 'predicted' | 'band'> {
  let predicted = 0;
  let variance = 0;
  for (const { source, share, spread, hourly } of hours) {
    const arrived = arrivedFrom(source);
    predicted += share * arrived;
    // Random variation grows with the square root of the volume.
    const usual = Math.max(arrived, Math.sqrt(arrived * hourly * (every / hour)));
    variance += (spread * usual) ** 2 * (hour / every + 1 / slotCount);
  }
  return { predicted, band: studentQuantile(slotCount - 1) * Math.sqrt(variance) };
}

function bytesBy(sums: readonly VolumeSum[], keyOf: (sum: VolumeSum) => string): ReadonlyMap<string, number> {
  const bytes = new Map<string, number>();
  for (const sum of sums) bytes.set(keyOf(sum), (bytes.get(keyOf(sum)) ?? 0) + sum.bytes);
  return bytes;
}

/** Whether measured bytes are outside the band by a relevant amount. */
export function leavesBand({ predicted, measured, band }: TimelinePoint): boolean {
  const off = Math.abs(measured - predicted);
  return off > band && off > leastPart * Math.max(predicted, measured) && off > leastBytes;
}

const leastPart = 0.05;
const leastBytes = 10_000;
