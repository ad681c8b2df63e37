import { hour } from '../events/time-units.ts';
import { expectationOf, type Rhythm, workingTime } from './rhythm.ts';

/**
 * Of the emitters of a source, how many reported in the hour that begins at `start` (milliseconds), and how many were due
 * but did not.
 */
export interface HeardHour {
  readonly start: number;
  readonly heard: number;
  readonly missing: number;
}

/** An emitter as far as it matters for whether it was heard. */
export interface HeardEmitter {
  readonly name: string;
  readonly rhythm: Rhythm;
  /** Not expected any more. */
  readonly retired: boolean;
}

/**
 * How many of some emitters were heard, hour by hour from `from` up to `to` (milliseconds); `heardIn` tells the names heard
 * in the hour that begins at a time. Missing is who was quiet in its working time for so long that it counts as silent:
 * nights off are not missed, nor who is not due yet.
 */
export function heardByHour(
  emitters: readonly HeardEmitter[],
  heardIn: ReadonlyMap<number, ReadonlySet<string>>,
  from: number,
  to: number,
): readonly HeardHour[] {
  const first = Math.floor(from / hour) * hour;
  const hours = Array.from({ length: Math.max(0, Math.ceil((to - first) / hour)) }, (_, i) => ({
    start: first + i * hour,
    heard: 0,
    missing: 0,
  }));
  for (const { name, rhythm, retired } of emitters) {
    /** Working time for which it has been quiet, and for how much of it it counts as silent. */
    let quiet = 0;
    let silent: number | undefined;
    for (const slot of hours) {
      const { start } = slot;
      if (start + hour <= rhythm.first) continue;
      const end = Math.min(start + hour, to);
      const isLast = rhythm.last >= start && rhythm.last < end;
      if (isLast || heardIn.get(start)?.has(name)) {
        slot.heard++;
        // Only of the last time is more known than the hour.
        quiet = isLast ? workingTime(rhythm, rhythm.last, end) : 0;
      } else if (!retired && rhythm.first <= start) {
        const worked = workingTime(rhythm, start, end);
        quiet += worked;
        silent ??= expectationOf(rhythm)?.silent ?? Number.POSITIVE_INFINITY;
        if (worked > 0 && quiet >= silent) slot.missing++;
      }
    }
  }
  return hours;
}
