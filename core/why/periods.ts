import { day, minute } from '../events/time-units.ts';
import { isWeekend } from '../events/weekend.ts';

/** A stretch of time in milliseconds, `to` exclusive. */
export interface Period {
  readonly from: number;
  readonly to: number;
}

/** What is compared: the period since a change, and earlier periods of the same length. */
export interface ComparedPeriods {
  readonly since: Period;
  /** The latest first. */
  readonly before: readonly Period[];
}

/** Most earlier periods. */
export const mostBefore = 7;
/** Shortest period that can be compared. */
const shortest = 5 * minute;

/**
 * The periods to compare when a figure changed at `began` and stayed changed until `until`: the same hours on earlier days of the same
 * kind (weekday or weekend), back to `known`, the time of the first known event. All times in milliseconds. A change that lasted more
 * than a day is compared with whole days; with less than a day of history, the baseline is the time directly before. Undefined if less
 * than five minutes are available on either side.
 */
export function comparedPeriods(began: number, until: number, known: number): ComparedPeriods | undefined {
  const available = began - known;
  const length = until - began;
  if (length < shortest || available < shortest) return undefined;
  if (available < day) {
    const same = Math.min(length, available);
    return { since: { from: began, to: began + same }, before: [{ from: began - same, to: began }] };
  }
  const whole = Math.floor(available / day) * day;
  const compared = Math.min(length, whole);
  const since = { from: began, to: began + compared };
  const back = (days: number): Period => ({ from: since.from - days * day, to: since.to - days * day });
  const apart = Math.ceil(compared / day);
  const days = Array.from({ length: whole / day - apart + 1 }, (_, i) => apart + i);
  // Each day is compared once.
  const apartDays = compared > day ? days.filter((one) => one % apart === 0) : days;
  const alike = compared > day ? apartDays : apartDays.filter((one) => isAlike(back(one), since));
  const chosen = alike.length > 0 ? alike : apartDays;
  return { since, before: chosen.slice(0, mostBefore).map(back) };
}

/** Whether two periods begin and end on the same kind of day. */
function isAlike(a: Period, b: Period): boolean {
  return isWeekend(a.from) === isWeekend(b.from) && isWeekend(a.to - 1) === isWeekend(b.to - 1);
}

/**
 * Two windows that someone chose. A baseline that is several times as long as `since` is split into periods of that length, at most
 * {@link mostBefore}; a shorter one stays as it is.
 */
export function chosenPeriods(since: Period, before: Period): ComparedPeriods {
  const length = since.to - since.from;
  const count = Math.max(1, Math.min(mostBefore, Math.floor((before.to - before.from) / length)));
  if (before.to - before.from < length) return { since, before: [before] };
  return {
    since,
    before: Array.from({ length: count }, (_, i) => ({
      from: before.to - (i + 1) * length,
      to: before.to - i * length,
    })),
  };
}
