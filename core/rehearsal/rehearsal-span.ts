import { day, hour } from '../events/time-units.ts';
import { parseDuration } from '../events/units.ts';
import { mostDays } from './recent-days.ts';

/** Whether a text is a duration from an hour to fourteen days. */
export function isRehearsalSpan(text: string | undefined): boolean {
  const time = parseDuration(text ?? '');
  return time !== undefined && time >= hour && time <= mostDays * day;
}

/** The length of tape to use (milliseconds), and the number of days to average (0: only the tape's window). */
export interface RehearsalSpan {
  readonly tape: number;
  readonly days: number;
}

/** Parses a text that passes {@link isRehearsalSpan}, rounding down to whole days. */
export function rehearsalSpan(text: string): RehearsalSpan {
  const time = parseDuration(text) ?? day;
  return { tape: Math.min(time, day), days: Math.floor(time / day) };
}
