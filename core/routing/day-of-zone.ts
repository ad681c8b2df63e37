import { hour, minute } from '../events/time-units.ts';

/** A day of a time zone: from midnight up to the next one, in milliseconds. */
export interface ZoneDay {
  readonly start: number;
  readonly end: number;
}

/** Whether the machine knows a time zone by its IANA name. */
export function isZone(name: string): boolean {
  try {
    new Intl.DateTimeFormat('en', { timeZone: name });
    return true;
  } catch {
    return false;
  }
}

/**
 * The day of a time zone (an IANA name) that a time belongs to. Days in which clocks change have 23 or 25 hours, and begin
 * when the date changes, be that at midnight or not. Throws on an unknown zone.
 */
export function daysOf(zone: string): (time: number) => ZoneDay {
  const format = new Intl.DateTimeFormat('en', { timeZone: zone, year: 'numeric', month: 'numeric', day: 'numeric' });
  /** The first minute after `from` whose date is another one; the date changes once between `from` and `to`. */
  const change = (from: number, to: number): number => {
    const before = format.format(from);
    let [low, high] = [Math.floor(from / minute), Math.ceil(to / minute)];
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (format.format(middle * minute) === before) low = middle;
      else high = middle;
    }
    return high * minute;
  };
  let last: ZoneDay = { start: 0, end: 0 };
  return (time) => {
    if (time >= last.start && time < last.end) return last;
    // The date of some hours ago is another one, or the day began within them.
    let earlier = time - 3 * hour;
    while (format.format(earlier) === format.format(time)) earlier -= 3 * hour;
    const start = change(earlier, time);
    const length = [22, 23, 24, 25, 26].find((hours) => format.format(start + hours * hour) !== format.format(start));
    last = { start, end: change(start, start + (length ?? 26) * hour) };
    return last;
  };
}
