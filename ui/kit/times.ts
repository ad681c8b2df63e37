import { format, formatDistanceToNowStrict } from 'date-fns';
import { shownDate, shownZone } from './shown-zone.ts';

/** A time by a pattern of date-fns, in the zone that is shown. */
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

/** The same instant in the zone that is not shown, for hovering: UTC, or local with its offset. */
export function inOtherZone(time: number): string {
  return shownZone() === 'utc' ? format(time, "yyyy-MM-dd'T'HH:mm:ss.SSSxxx") : new Date(time).toISOString();
}

/** A share as a percentage with a digit where it matters. */
export function percent(share: number): string {
  const value = share * 100;
  return `${value > 0 && value < 99.95 && (value < 10 || value > 90) ? value.toFixed(1) : Math.round(value)} %`;
}
