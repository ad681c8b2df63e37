import { format, formatDistanceToNowStrict } from 'date-fns';
import { shownDate, shownZone } from './shown-zone.ts';

/** Formats a time with a date-fns pattern, in the shown zone. */
export function formatShown(time: number | Date, pattern: string): string {
  return format(shownDate(time), pattern);
}

/** A time of day to the millisecond. */
export function clock(time: number): string {
  return formatShown(time, 'HH:mm:ss.SSS');
}

/** Day and minute. */
export function dayAndMinute(time: number): string {
  return formatShown(time, 'EEE d MMM HH:mm');
}

/** A day. */
export function dayOf(time: number): string {
  return formatShown(time, 'd MMM yyyy');
}

/** How long ago, in words. */
export function ago(time: number): string {
  return Date.now() - time < 10_000 ? 'just now' : `${formatDistanceToNowStrict(time)} ago`;
}

/** The same instant in the other zone, for tooltips: UTC, or local time with its offset. */
export function inOtherZone(time: number): string {
  return shownZone() === 'utc' ? format(time, "yyyy-MM-dd'T'HH:mm:ss.SSSxxx") : new Date(time).toISOString();
}

/** A share as a percentage with a digit where it matters. */
export function percent(share: number): string {
  const value = share * 100;
  return `${value > 0 && value < 99.95 && (value < 10 || value > 90) ? value.toFixed(1) : Math.round(value)} %`;
}
