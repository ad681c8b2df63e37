import { day, hour, minute } from '../events/time-units.ts';

/** How finely rankings are kept, for how long, and how many of those who come most have counters. */
export interface TalkerLevel {
  readonly level: number;
  /** What a sketch covers, in milliseconds. */
  readonly step: number;
  /** For how long it is kept, in milliseconds. */
  readonly keep: number;
  /** Counters of a sketch. */
  readonly most: number;
}

/** By five minutes for 8 days, by the hour for 90, and by the day (of UTC) for 15 months. */
export const talkerLevels: readonly TalkerLevel[] = [
  { level: 0, step: 5 * minute, keep: 8 * day, most: 500 },
  { level: 1, step: hour, keep: 90 * day, most: 1_000 },
  { level: 2, step: day, keep: 456 * day, most: 1_000 },
];

/** The levels by name, the finest first. */
export const [fiveMinutes, talkerHours, talkerDays] = talkerLevels as readonly [TalkerLevel, TalkerLevel, TalkerLevel];

/** The level whose steps those of another one are made of; undefined for the finest. */
export function finerThan({ level }: TalkerLevel): TalkerLevel | undefined {
  return talkerLevels[level - 1];
}

/** Most steps that a window is shown in. */
const mostSteps = 460;

/** Start of the step that a time belongs to. */
export function stepStart({ step }: TalkerLevel, time: number): number {
  return Math.floor(time / step) * step;
}

/** From when on a level is kept, at the time `now`: whole days. */
export function talkersKeptFrom({ keep }: TalkerLevel, now: number): number {
  return Math.floor((now - keep) / day) * day;
}

/** The finest level that is kept of a time; undefined where none is. */
export function talkerLevelAt(time: number, now: number): TalkerLevel | undefined {
  return talkerLevels.find((level) => time >= talkersKeptFrom(level, now));
}

/** A window in whole steps of a level; milliseconds. */
export interface TalkerWindow {
  readonly from: number;
  readonly to: number;
  readonly level: TalkerLevel;
}

/** The steps in which a window is shown: as fine as its beginning is kept and as there is room for. */
export function talkerWindow(from: number, to: number, now: number): TalkerWindow {
  const fits = (level: TalkerLevel): boolean =>
    from >= talkersKeptFrom(level, now) && (to - from) / level.step <= mostSteps;
  const level = talkerLevels.find(fits) ?? talkerDays;
  // Beyond what is kept there is nothing to show.
  const first = Math.max(stepStart(level, from), talkersKeptFrom(talkerDays, now));
  return { from: first, to: Math.max(first, Math.ceil(to / level.step) * level.step), level };
}
