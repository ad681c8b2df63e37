import { format, formatDistanceToNowStrict } from 'date-fns';

/** A time of day to the millisecond, local. */
export function clock(time: number): string {
  return format(time, 'HH:mm:ss.SSS');
}

/** Day and minute, local. */
export function dayAndMinute(time: number): string {
  return format(time, 'EEE d MMM HH:mm');
}

/** A day, local. */
export function dayOf(time: number): string {
  return format(time, 'd MMM yyyy');
}

/** How long ago, in words. */
export function ago(time: number): string {
  return Date.now() - time < 10_000 ? 'just now' : `${formatDistanceToNowStrict(time)} ago`;
}

/** The same instant in UTC, for hovering. */
export function inUtc(time: number): string {
  return new Date(time).toISOString();
}

/** A share as a percentage with a digit where it matters. */
export function percent(share: number): string {
  const value = share * 100;
  return `${value > 0 && value < 99.95 && (value < 10 || value > 90) ? value.toFixed(1) : Math.round(value)} %`;
}
