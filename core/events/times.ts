/** Reads a time from `bytes[start..end)`; milliseconds since 1970 UTC, or `NaN` when the bytes are no such time. */
export type TimeReader = (bytes: Uint8Array, start: number, end: number) => number;

const zero = 48;

/** Two decimal digits at `at`, or −1. */
function twoDigits(bytes: Uint8Array, at: number): number {
  const tens = (bytes[at] as number) - zero;
  const ones = (bytes[at + 1] as number) - zero;
  return tens >= 0 && tens <= 9 && ones >= 0 && ones <= 9 ? tens * 10 + ones : -1;
}

/**
 * Days from 1970-01-01 to a date of the proleptic Gregorian calendar
 * (method: E. G. Richards, "Calendars", in the Explanatory Supplement to the Astronomical Almanac).
 */
export function daysFromDate(year: number, month: number, day: number): number {
  const shifted = month <= 2 ? year - 1 : year;
  const era = Math.floor(shifted / 400);
  const yearOfEra = shifted - era * 400;
  const dayOfYear = Math.floor((153 * (month + (month > 2 ? -3 : 9)) + 2) / 5) + day - 1;
  const dayOfEra = yearOfEra * 365 + Math.floor(yearOfEra / 4) - Math.floor(yearOfEra / 100) + dayOfYear;
  return era * 146_097 + dayOfEra - 719_468;
}

const lengths = [31, 29, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];

function isDate(month: number, day: number): boolean {
  return month >= 1 && month <= 12 && day >= 1 && day <= (lengths[month - 1] as number);
}

/** ISO 8601 / RFC 3339 date and time; without an offset it is UTC. A date alone means its midnight. */
export const readIso: TimeReader = (bytes, start, end) => {
  const length = end - start;
  if (length < 10 || bytes[start + 4] !== 45 || bytes[start + 7] !== 45) return Number.NaN;
  const century = twoDigits(bytes, start);
  const years = twoDigits(bytes, start + 2);
  const month = twoDigits(bytes, start + 5);
  const day = twoDigits(bytes, start + 8);
  if (century < 0 || years < 0 || !isDate(month, day)) return Number.NaN;
  const midnight = daysFromDate(century * 100 + years, month, day) * 86_400_000;
  if (length === 10) return midnight;
  const separator = bytes[start + 10];
  if (length < 16 || (separator !== 84 && separator !== 116 && separator !== 32) || bytes[start + 13] !== 58) {
    return Number.NaN;
  }
  const hour = twoDigits(bytes, start + 11);
  const minute = twoDigits(bytes, start + 14);
  if (hour < 0 || hour > 24 || minute < 0 || minute > 59) return Number.NaN;
  let at = start + 16;
  let milliseconds = 0;
  if (at < end && bytes[at] === 58) {
    const second = twoDigits(bytes, at + 1);
    if (second < 0 || second > 60) return Number.NaN;
    milliseconds = second * 1000;
    at += 3;
    if (at < end && (bytes[at] === 46 || bytes[at] === 44)) {
      let scale = 100;
      at++;
      const from = at;
      while (at < end) {
        const digit = (bytes[at] as number) - zero;
        if (digit < 0 || digit > 9) break;
        milliseconds += digit * scale;
        scale /= 10;
        at++;
      }
      if (at === from) return Number.NaN;
    }
  }
  const offset = readOffset(bytes, at, end);
  return midnight + hour * 3_600_000 + minute * 60_000 + Math.floor(milliseconds) - offset;
};

/** The UTC offset that ends a time, in milliseconds: nothing or `Z` is 0; `+02:00`, `+0200`, `+02`. */
function readOffset(bytes: Uint8Array, start: number, end: number): number {
  let at = start;
  if (at < end && bytes[at] === 32) at++;
  if (at === end) return 0;
  const sign = bytes[at];
  if ((sign === 90 || sign === 122) && at + 1 === end) return 0;
  if (sign !== 43 && sign !== 45) return Number.NaN;
  const hours = twoDigits(bytes, at + 1);
  const rest = end - at - 3;
  const minutes = rest === 0 ? 0 : twoDigits(bytes, at + (bytes[at + 3] === 58 ? 4 : 3));
  if (hours < 0 || minutes < 0 || rest > 3) return Number.NaN;
  return (hours * 60 + minutes) * 60_000 * (sign === 45 ? -1 : 1);
}

const months = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];
const monthKeys = months.map((name) => (name.charCodeAt(0) << 16) | (name.charCodeAt(1) << 8) | name.charCodeAt(2));

/** The month (1–12) of a three-letter English name at `at`, or 0. */
function readMonth(bytes: Uint8Array, at: number): number {
  const key =
    (((bytes[at] as number) | 32) << 16) | (((bytes[at + 1] as number) | 32) << 8) | ((bytes[at + 2] as number) | 32);
  return monthKeys.indexOf(key) + 1;
}

/** The time of web access lines: `24/Nov/2026:09:41:12 +0000`. */
export const readClf: TimeReader = (bytes, start, end) => {
  if (end - start < 20 || bytes[start + 2] !== 47 || bytes[start + 6] !== 47) return Number.NaN;
  const day = twoDigits(bytes, start);
  const month = readMonth(bytes, start + 3);
  const century = twoDigits(bytes, start + 7);
  const years = twoDigits(bytes, start + 9);
  const clock = readClock(bytes, start + 12);
  if (century < 0 || years < 0 || !isDate(month, day)) return Number.NaN;
  const offset = readOffset(bytes, start + 20, end);
  return daysFromDate(century * 100 + years, month, day) * 86_400_000 + clock - offset;
};

function readClock(bytes: Uint8Array, at: number): number {
  const hour = twoDigits(bytes, at);
  const minute = twoDigits(bytes, at + 3);
  const second = twoDigits(bytes, at + 6);
  if (hour < 0 || hour > 23 || minute < 0 || minute > 59 || second < 0 || second > 60) return Number.NaN;
  return ((hour * 60 + minute) * 60 + second) * 1000;
}

/**
 * The year-less time of RFC 3164, `Nov 24 09:41:12`, in UTC; for the year see {@link inLikelyYear}, with `reference` in
 * milliseconds.
 */
export function readSyslogTime(bytes: Uint8Array, start: number, end: number, reference: number): number {
  if (end - start < 15 || bytes[start + 3] !== 32 || bytes[start + 6] !== 32) return Number.NaN;
  const month = readMonth(bytes, start);
  const tens = bytes[start + 4] === 32 ? 0 : (bytes[start + 4] as number) - zero;
  const day = tens * 10 + (bytes[start + 5] as number) - zero;
  const clock = readClock(bytes, start + 7);
  if (!isDate(month, day) || clock !== clock) return Number.NaN;
  return inLikelyYear(reference, (year) => daysFromDate(year, month, day) * 86_400_000 + clock);
}

/** How far a clock may be ahead before a time without a year is taken for one of the year before, in milliseconds. */
const ahead = 2 * 86_400_000;

/**
 * The time that a date without a year means: the latest that is no more than two days after `reference` (milliseconds),
 * as lines tell of what has been, by a clock that may be ahead.
 */
export function inLikelyYear(reference: number, timeIn: (year: number) => number): number {
  const year = new Date(reference).getUTCFullYear();
  for (const candidate of [year + 1, year]) {
    const time = timeIn(candidate);
    if (time <= reference + ahead) return time;
  }
  return timeIn(year - 1);
}

/** A count since 1970 whose unit follows from its size: seconds, milli-, micro- or nanoseconds. */
export function timeFromEpoch(value: number): number {
  const size = Math.abs(value);
  if (size < 1e11) return value * 1000;
  if (size < 1e14) return value;
  if (size < 1e17) return value / 1e3;
  return value / 1e6;
}
