import { readNumber } from '../events/numbers.ts';
import { decode } from '../events/text-table.ts';
import { readClf, readIso, readSyslogTime, timeFromEpoch } from '../events/times.ts';
import { parseQuantity, type Unit } from '../events/units.ts';
import { readWrittenTime, writtenTimeExtent } from '../events/written-times.ts';

/**
 * Where a value that shows its own end ends: the offset behind the value that begins at `at`, or −1 when none begins
 * there.
 */
export type Extent = (bytes: Uint8Array, at: number, end: number) => number;

/** A type that a hole of a line template can have. */
export interface HoleType {
  readonly name: string;
  readonly help: string;
  /** `text` keeps the characters, `number` converts, `pairs` gives several attributes, `time` milliseconds. */
  readonly gives: 'text' | 'number' | 'time' | 'pairs';
  readonly unit: Unit;
  /** Absent for types that reach up to the text that follows the hole. */
  readonly extent?: Extent;
  /** The number or time; `NaN` when the characters are none. `reference` is the arrival, for times without a year. */
  readonly read?: (bytes: Uint8Array, start: number, end: number, reference: number) => number;
}

function isDigit(byte: number | undefined): boolean {
  return byte !== undefined && byte >= 48 && byte <= 57;
}

const intExtent: Extent = (bytes, start, end) => {
  let at = start;
  if (at < end && (bytes[at] === 45 || bytes[at] === 43)) at++;
  const first = at;
  while (at < end && isDigit(bytes[at])) at++;
  return at === first ? -1 : at;
};

const numberExtent: Extent = (bytes, start, end) => {
  let at = start;
  if (at < end && (bytes[at] === 45 || bytes[at] === 43)) at++;
  const first = at;
  while (at < end && ((bytes[at] as number) - 48) >>> 0 < 10) at++;
  if (at === first) return -1;
  if (at + 1 < end && bytes[at] === 46 && ((bytes[at + 1] as number) - 48) >>> 0 < 10) {
    at += 2;
    while (at < end && ((bytes[at] as number) - 48) >>> 0 < 10) at++;
  }
  if (at + 1 < end && (bytes[at] === 101 || bytes[at] === 69)) {
    const exponent = intExtent(bytes, at + 1, end);
    if (exponent > 0) at = exponent;
  }
  return at;
};

/** A number with the letters of its unit. */
const quantityExtent: Extent = (bytes, start, end) => {
  let at = numberExtent(bytes, start, end);
  if (at < 0) return -1;
  while (at < end && (((bytes[at] as number) | 32) - 97) >>> 0 < 26) at++;
  return at;
};

const ipExtent: Extent = (bytes, start, end) => {
  let at = start;
  for (; at < end; at++) {
    const byte = bytes[at] as number;
    const hexadecimal = isDigit(byte) || ((byte | 32) >= 97 && (byte | 32) <= 102);
    if (!hexadecimal && byte !== 46 && byte !== 58) break;
  }
  return at - start < 2 ? -1 : at;
};

const quotedExtent: Extent = (bytes, start, end) => {
  if (bytes[start] !== 34) return -1;
  let at = start + 1;
  while (at < end && bytes[at] !== 34) at += bytes[at] === 92 ? 2 : 1;
  return at < end ? at + 1 : -1;
};

const jsonExtent: Extent = (bytes, start, end) => {
  if (bytes[start] !== 123 && bytes[start] !== 91) return -1;
  let open = 0;
  for (let at = start; at < end; at++) {
    const byte = bytes[at];
    if (byte === 34) {
      at = quotedExtent(bytes, at, end) - 1;
      if (at < 0) return -1;
    } else if (byte === 123 || byte === 91) open++;
    else if ((byte === 125 || byte === 93) && --open === 0) return at + 1;
  }
  return -1;
};

/** The characters an ISO time is made of, a blank between date and time included. */
const isoExtent: Extent = (bytes, start, end) => {
  let at = start;
  if (start + 20 <= end && bytes[start + 10] === 84 && bytes[start + 16] === 58 && isDigit(bytes[start + 18])) {
    // Date and time in full, by far the most common: whether all digits are digits is seen when it is read.
    at = start + 19;
    if (bytes[at] === 46) for (at++; at < end && ((bytes[at] as number) - 48) >>> 0 < 10; ) at++;
    if (at < end && bytes[at] === 90) return at + 1;
    at = start;
  }
  for (; at < end && at - start < 40; at++) {
    const byte = bytes[at] as number;
    const between = at - start === 10 && (byte === 84 || byte === 116 || (byte === 32 && isDigit(bytes[at + 1])));
    const ends = byte === 90 || byte === 122;
    if (
      !isDigit(byte) &&
      byte !== 45 &&
      byte !== 58 &&
      byte !== 46 &&
      byte !== 43 &&
      !between &&
      !(ends && at - start > 10)
    )
      break;
    if (ends) return at + 1;
  }
  return at - start < 10 ? -1 : at;
};

const clfExtent: Extent = (bytes, start, end) =>
  start + 26 <= end && bytes[start + 2] === 47 && bytes[start + 20] === 32
    ? start + 26
    : start + 20 <= end
      ? start + 20
      : -1;

const syslogExtent: Extent = (_, start, end) => (start + 15 <= end ? start + 15 : -1);

function readQuantity(unit: Unit): NonNullable<HoleType['read']> {
  return (bytes, start, end) => {
    const quantity = parseQuantity(decode(bytes, start, end));
    return quantity && (quantity.unit === unit || quantity.unit === 'none') ? quantity.value : Number.NaN;
  };
}

const list: readonly HoleType[] = [
  { name: 'text', help: 'Any characters up to what follows.', gives: 'text', unit: 'none' },
  { name: 'int', help: 'A whole number.', gives: 'number', unit: 'none', extent: intExtent, read: readNumber },
  {
    name: 'number',
    help: 'A number, with decimals.',
    gives: 'number',
    unit: 'none',
    extent: numberExtent,
    read: readNumber,
  },
  { name: 'ip', help: 'An IPv4 or IPv6 address.', gives: 'text', unit: 'none', extent: ipExtent },
  {
    name: 'bytes',
    help: 'A whole number of bytes.',
    gives: 'number',
    unit: 'size',
    extent: intExtent,
    read: readNumber,
  },
  {
    name: 'size',
    help: 'A size with its unit, such as 3MB.',
    gives: 'number',
    unit: 'size',
    extent: quantityExtent,
    read: readQuantity('size'),
  },
  {
    name: 'duration',
    help: 'A duration with its unit, such as 250ms.',
    gives: 'number',
    unit: 'duration',
    extent: quantityExtent,
    read: readQuantity('duration'),
  },
  {
    name: 'seconds',
    help: 'A number of seconds.',
    gives: 'number',
    unit: 'duration',
    extent: numberExtent,
    read: readNumber,
  },
  { name: 'path', help: 'Characters up to what follows, with no blank among them.', gives: 'text', unit: 'none' },
  {
    name: 'quoted',
    help: 'Text in double quotes; the quotes are left out.',
    gives: 'text',
    unit: 'none',
    extent: quotedExtent,
  },
  { name: 'json', help: 'A JSON object or list, kept as text.', gives: 'text', unit: 'none', extent: jsonExtent },
  { name: 'pairs', help: 'name=value pairs; each becomes a field.', gives: 'pairs', unit: 'none' },
  {
    name: 'rest',
    help: 'Everything to the end of the line.',
    gives: 'text',
    unit: 'none',
    extent: (_, __, end) => end,
  },
  { name: 'iso', help: 'ISO 8601 date and time.', gives: 'time', unit: 'none', extent: isoExtent, read: readIso },
  {
    name: 'clf',
    help: 'The time of web access lines: 24/Nov/2026:09:41:12 +0000.',
    gives: 'time',
    unit: 'none',
    extent: clfExtent,
    read: readClf,
  },
  {
    name: 'epoch',
    help: 'Seconds since 1970.',
    gives: 'time',
    unit: 'none',
    extent: numberExtent,
    read: (b, s, e) => readNumber(b, s, e) * 1000,
  },
  {
    name: 'epoch-ms',
    help: 'Milliseconds since 1970.',
    gives: 'time',
    unit: 'none',
    extent: intExtent,
    read: (b, s, e) => timeFromEpoch(readNumber(b, s, e)),
  },
  {
    name: 'syslog',
    help: 'The year-less time of syslog: Nov 24 09:41:12.',
    gives: 'time',
    unit: 'none',
    extent: syslogExtent,
    read: readSyslogTime,
  },
  {
    name: 'time',
    help: 'A date and time in any of the usual ways: 2026/11/24 09:41:12, Tue Nov 24 09:41:12 2026, 24.11.2026 09:41:12,250.',
    gives: 'time',
    unit: 'none',
    extent: writtenTimeExtent,
    read: readWrittenTime,
  },
];

/** All hole types by name. */
export const holeTypes: ReadonlyMap<string, HoleType> = new Map(list.map((type) => [type.name, type]));
