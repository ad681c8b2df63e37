import { day, hour, minute } from '../events/time-units.ts';

/** How finely points are kept, and for how long. Steps divide those that are coarser, and chunks hold whole ones of them. */
export interface Level {
  readonly level: number;
  /** Between two points, in milliseconds. */
  readonly step: number;
  /** How much time a chunk covers. */
  readonly chunk: number;
  /** For how long points are kept so; of the coarsest level a metric says it. */
  readonly keep: number;
}

/** By the minute for 15 days, by ten minutes for 60, and by the hour for good. */
export const levels: readonly Level[] = [
  { level: 0, step: minute, chunk: hour, keep: 15 * day },
  { level: 1, step: 10 * minute, chunk: day, keep: 60 * day },
  { level: 2, step: hour, chunk: 30 * day, keep: Number.POSITIVE_INFINITY },
];

/** The levels by name, the finest first. */
export const [minutes, tenMinutes, hours] = levels as readonly [Level, Level, Level];

/** Points of a chunk. */
export function placesOf({ step, chunk }: Level): number {
  return chunk / step;
}

/** Start of the chunk that a time belongs to. */
export function chunkStart({ chunk }: Level, time: number): number {
  return Math.floor(time / chunk) * chunk;
}

/** From when on points are kept at a level, at the time `now`: the start of a whole chunk of the coarser levels' steps. */
export function keptFrom({ keep }: Level, now: number): number {
  return Number.isFinite(keep) ? Math.floor((now - keep) / day) * day : Number.NEGATIVE_INFINITY;
}

/** The finest level that keeps points of a time. */
export function levelAt(time: number, now: number): Level {
  return levels.find((level) => time >= keptFrom(level, now)) ?? hours;
}
