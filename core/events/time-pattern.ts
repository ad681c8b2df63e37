import { LRUCache } from 'lru-cache';
import { daysFromDate, inLikelyYear } from './times.ts';

/** Reads a time from `bytes[start..end)`; milliseconds since 1970 UTC, or `NaN`. `reference` gives a missing year. */
export type PatternTimeReader = (bytes: Uint8Array, start: number, end: number, reference: number) => number;

export type CompiledTimePattern =
  | {
      readonly ok: true;
      readonly read: PatternTimeReader;
      /** The offset behind a time that begins at `at` and may end before `end`; −1 where none begins there. */
      readonly extent: (bytes: Uint8Array, at: number, end: number) => number;
    }
  | { readonly ok: false; readonly message: string };

/** Where the parts of a time are gathered while it is read. */
interface Parts {
  year: number;
  month: number;
  day: number;
  hour: number;
  minute: number;
  second: number;
  fraction: number;
  /** 12-hour clock: 0 before noon, 12 after; −1 when there is none. */
  half: number;
  /** Minutes east of UTC; NaN when the time tells none. */
  offset: number;
}

/** Reads one piece at `at`; returns the offset behind it, or −1. */
type PieceReader = (bytes: Uint8Array, at: number, end: number, parts: Parts) => number;

const monthNames = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];

/** A number of `least` to `most` digits that becomes a part of the time. */
function digits(
  least: number,
  most: number,
  part: 'year' | 'month' | 'day' | 'hour' | 'minute' | 'second',
  plus = 0,
): PieceReader {
  return (bytes, start, end, parts) => {
    let at = start;
    let value = 0;
    while (at < end && at - start < most) {
      const digit = (bytes[at] as number) - 48;
      if (digit < 0 || digit > 9) break;
      value = value * 10 + digit;
      at++;
    }
    if (at - start < least) return -1;
    parts[part] = value + plus;
    return at;
  };
}

const monthName: PieceReader = (bytes, at, end, parts) => {
  if (at + 3 > end) return -1;
  const name = String.fromCharCode(bytes[at] as number, bytes[at + 1] as number, bytes[at + 2] as number).toLowerCase();
  const month = monthNames.indexOf(name) + 1;
  if (month === 0) return -1;
  parts.month = month;
  let next = at + 3;
  while (next < end && ((bytes[next] as number) | 32) >= 97 && ((bytes[next] as number) | 32) <= 122) next++;
  return next;
};

const fraction: PieceReader = (bytes, start, end, parts) => {
  let at = start;
  let scale = 100;
  let value = 0;
  while (at < end) {
    const digit = (bytes[at] as number) - 48;
    if (digit < 0 || digit > 9) break;
    value += digit * scale;
    scale /= 10;
    at++;
  }
  parts.fraction = Math.floor(value);
  return at === start ? -1 : at;
};

const halfDay: PieceReader = (bytes, at, _end, parts) => {
  const first = (bytes[at] as number) | 32;
  if ((first !== 97 && first !== 112) || ((bytes[at + 1] as number) | 32) !== 109) return -1;
  parts.half = first === 112 ? 12 : 0;
  return at + 2;
};

const zone: PieceReader = (bytes, at, end, parts) => {
  const sign = bytes[at];
  if (sign === 90 || sign === 122) {
    parts.offset = 0;
    return at + 1;
  }
  if (sign !== 43 && sign !== 45) return -1;
  const two = (from: number): number => {
    const tens = (bytes[from] as number) - 48;
    const ones = (bytes[from + 1] as number) - 48;
    return from + 2 <= end && tens >= 0 && tens <= 9 && ones >= 0 && ones <= 9 ? tens * 10 + ones : -1;
  };
  const hours = two(at + 1);
  const colon = bytes[at + 3] === 58 ? 1 : 0;
  const minutes = two(at + 3 + colon);
  if (hours < 0) return -1;
  parts.offset = (hours * 60 + Math.max(0, minutes)) * (sign === 45 ? -1 : 1);
  return minutes < 0 ? at + 3 : at + 5 + colon;
};

const letters: Readonly<Record<string, PieceReader>> = {
  yyyy: digits(4, 4, 'year'),
  yy: digits(2, 2, 'year', 2000),
  MMM: monthName,
  MM: digits(2, 2, 'month'),
  M: digits(1, 2, 'month'),
  dd: digits(2, 2, 'day'),
  d: digits(1, 2, 'day'),
  HH: digits(2, 2, 'hour'),
  H: digits(1, 2, 'hour'),
  hh: digits(2, 2, 'hour'),
  h: digits(1, 2, 'hour'),
  mm: digits(2, 2, 'minute'),
  ss: digits(2, 2, 'second'),
  S: fraction,
  a: halfDay,
  Z: zone,
};

function literal(text: string): PieceReader {
  const codes = [...text].map((char) => char.charCodeAt(0));
  return (bytes, start, end) => {
    let at = start;
    for (const code of codes) {
      if (at >= end || bytes[at] !== code) return -1;
      at++;
      if (code === 32) while (at < end && bytes[at] === 32) at++;
    }
    return at;
  };
}

const shape = /'([^']*)'|([A-Za-z])\2*|[^A-Za-z']+/g;

/**
 * Compiles a time pattern with the letters of Unicode Technical Standard #35 (dates) that times in logs are made of:
 * `yyyy yy MMM MM M dd d HH H hh h mm ss S a Z`; text in single quotes and all other characters stand for themselves.
 * `zone` counts where the time tells none: an offset such as `+02:00`, or an IANA name such as `Europe/Oslo`; else UTC.
 * A time without a year gets the likeliest one, seen from the reference ({@link inLikelyYear}).
 */
export function compileTimePattern(pattern: string, zoneName?: string): CompiledTimePattern {
  const readers: PieceReader[] = [];
  for (const [piece, quoted, letter] of pattern.matchAll(shape)) {
    if (letter === undefined) {
      readers.push(literal(quoted ?? piece));
      continue;
    }
    const name = /^S+$/.test(piece) ? 'S' : piece === 'MMMM' ? 'MMM' : piece;
    const reader = letters[name];
    if (!reader) return { ok: false, message: `${piece} stands for nothing in a time pattern` };
    readers.push(reader);
  }
  if (!/d/.test(pattern) || !/M/.test(pattern))
    return { ok: false, message: 'a time pattern needs a day (dd) and a month (MM)' };
  const offset = zoneName ? zoneOffset(zoneName) : () => 0;
  if (!offset) return { ok: false, message: `${zoneName} is not a time zone` };
  const twelve = /h/.test(pattern.replace(/'[^']*'/g, ''));
  const through = (bytes: Uint8Array, start: number, end: number, parts: Parts): number => {
    let at = start;
    for (const reader of readers) {
      at = reader(bytes, at, end, parts);
      if (at < 0) return -1;
    }
    return at;
  };
  return {
    ok: true,
    extent: (bytes, at, end) => through(bytes, at, end, noParts()),
    read: (bytes, start, end, reference) => {
      const parts = noParts();
      if (through(bytes, start, end, parts) !== end) return Number.NaN;
      if (twelve) {
        if (parts.hour < 1 || parts.hour > 12) return Number.NaN;
        parts.hour = (parts.hour % 12) + Math.max(0, parts.half);
      }
      return timeOf(parts, reference, offset);
    },
  };
}

function noParts(): Parts {
  return {
    year: Number.NaN,
    month: 1,
    day: 1,
    hour: 0,
    minute: 0,
    second: 0,
    fraction: 0,
    half: -1,
    offset: Number.NaN,
  };
}

const monthLengths = [31, 29, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];

function timeOf(parts: Parts, reference: number, zoneOffsetAt: (local: number) => number): number {
  const { month, day, hour, minute, second } = parts;
  if (month < 1 || month > 12 || day < 1 || day > (monthLengths[month - 1] as number)) return Number.NaN;
  if (hour > 23 || minute > 59 || second > 60) return Number.NaN;
  const at = (year: number): number => {
    const local =
      daysFromDate(year, month, day) * 86_400_000 + ((hour * 60 + minute) * 60 + second) * 1000 + parts.fraction;
    const minutes = parts.offset === parts.offset ? parts.offset : zoneOffsetAt(local);
    return local - minutes * 60_000;
  };
  if (parts.year === parts.year) return at(parts.year);
  return inLikelyYear(reference, at);
}

/** Minutes east of UTC of a zone at a local time (milliseconds as if it were UTC); undefined for an unknown zone. */
export function zoneOffset(name: string): ((local: number) => number) | undefined {
  const fixed = /^([+-])(\d\d):?(\d\d)$/.exec(name);
  if (fixed) {
    const minutes = (Number(fixed[2]) * 60 + Number(fixed[3])) * (fixed[1] === '-' ? -1 : 1);
    return () => minutes;
  }
  let format: Intl.DateTimeFormat;
  try {
    format = new Intl.DateTimeFormat('en-GB', {
      timeZone: name,
      timeStyle: 'medium',
      dateStyle: 'short',
      hourCycle: 'h23',
    });
  } catch {
    return undefined;
  }
  const offsetAt = (time: number): number => {
    const [date = '', clock = ''] = format.format(time).split(', ');
    const [day, month, year] = date.split('/').map(Number);
    const [hour, minute, second] = clock.split(':').map(Number);
    const local = Date.UTC(year as number, (month as number) - 1, day, hour, minute, second);
    return Math.round((local - Math.floor(time / 1000) * 1000) / 60_000);
  };
  // Offsets change on the quarter hour, so what was found for one is good for all of it.
  const known = new LRUCache<number, number>({ max: 1_000 });
  return (local) => {
    const quarter = Math.floor(local / 900_000);
    let minutes = known.get(quarter);
    if (minutes === undefined) {
      minutes = offsetAt(local - offsetAt(local) * 60_000);
      known.set(quarter, minutes);
    }
    return minutes;
  };
}
