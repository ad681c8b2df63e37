import type { TimelinePoint, TimelineRow } from '../answers/plan.ts';
import { day, hour } from '../events/time-units.ts';
import type { HourSpread } from '../rehearsal/hour-spreads.ts';
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

/**
 * Predicted and measured volume in total, by tier and by source. `came` are ledger sums by source, outcome and tier in intervals of
 * `every`. The prediction applies the shares of the rehearsal to the volume that arrived in the interval; its 95 % band follows from how
 * much these shares varied by the hour. Excludes sources that the rehearsal did not have, and intervals that `isLeftOut`.
 */
export function revisionTimeline(
  { sources, hours }: TimelinePrediction,
  came: readonly VolumeSum[],
  { from, to, every }: TimelineStretch,
  isLeftOut: (start: number) => boolean,
): readonly TimelineRow[] {
  const known = new Set(sources);
  const ofKnown = came.filter(({ source = '' }) => known.has(source));
  const kept = ofKnown.filter(({ outcome }) => outcome === 'kept');
  const arrived = bytesBy(ofKnown, ({ start, source }) => `${start} ${source}`);
  const starts: number[] = [];
  for (let start = from; start < to; start += every) if (!isLeftOut(start)) starts.push(start);
  const row = (
    kind: TimelineRow['kind'],
    id: string,
    isPredicted: (spread: HourSpread) => boolean,
    isMeasured: (sum: VolumeSum) => boolean,
  ): TimelineRow => {
    const some = hours.filter(isPredicted);
    const measured = bytesBy(kept.filter(isMeasured), ({ start }) => String(start));
    const points = starts.map((start) => {
      const arrivedFrom = (source: string): number => arrived.get(`${start} ${source}`) ?? 0;
      return { start, measured: measured.get(String(start)) ?? 0, ...predictionOf(some, arrivedFrom, every) };
    });
    return { kind, id, points };
  };
  const tiers = [...new Set([...hours, ...kept].map(({ tier = '' }) => tier))];
  return [
    row('all', '', always, always),
    ...tiers.map((id) =>
      row(
        'tier',
        id,
        ({ tier }) => tier === id,
        ({ tier }) => tier === id,
      ),
    ),
    ...sources.map((id) =>
      row(
        'source',
        id,
        ({ source }) => source === id,
        ({ source }) => source === id,
      ),
    ),
  ];
}

function always(): boolean {
  return true;
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
