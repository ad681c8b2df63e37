import { compileTimePattern, type PatternTimeReader } from './time-pattern.ts';

/** A compiled time pattern. */
interface WrittenForm {
  readonly extent: (bytes: Uint8Array, at: number, end: number) => number;
  readonly read: PatternTimeReader;
}

/**
 * The patterns, by what a time begins with. Those with a year come before those without one that begin alike. Where they are
 * from: ISO 8601; asctime and strftime of the C standard; RFC 9110, 5.6.7; the default formats of Java's and Go's loggers.
 */
const patterns = {
  digit: [
    "yyyy-MM-dd'T'H:mm:ss",
    'yyyy-MM-dd H:mm:ss',
    "yyyy/MM/dd'T'H:mm:ss",
    'yyyy/MM/dd H:mm:ss',
    'yyyy.MM.dd H:mm:ss',
    'dd.MM.yyyy H:mm:ss',
    'dd/MMM/yyyy:HH:mm:ss',
    'dd/MMM/yyyy HH:mm:ss',
    'dd-MMM-yyyy HH:mm:ss',
    'd MMM yyyy HH:mm:ss',
    "yyyyMMdd'T'HHmmss",
    'yyyyMMdd HH:mm:ss',
    'yyMMdd HH:mm:ss',
    'MMdd HH:mm:ss',
    'MMdd/HHmmss',
  ],
  letter: ['MMM d, yyyy h:mm:ss', 'MMM d yyyy HH:mm:ss', 'MMM d HH:mm:ss'],
} as const;

const compiled = (list: readonly string[]): readonly WrittenForm[] =>
  list.flatMap((pattern) => {
    const form = compileTimePattern(pattern);
    return form.ok ? [form] : [];
  });
const forms = { digit: compiled(patterns.digit), letter: compiled(patterns.letter) };

const isDigit = (byte: number | undefined): boolean => byte !== undefined && byte >= 48 && byte <= 57;
const isLetter = (byte: number | undefined): boolean => byte !== undefined && (byte | 32) >= 97 && (byte | 32) <= 122;

/** A time that was read: the offset after it, and milliseconds since 1970. */
interface Written {
  readonly end: number;
  readonly time: number;
}

const nowhere: Written = { end: -1, time: Number.NaN };

/** The offset after a weekday and its separator; `at` if there is no weekday. */
function behindWeekday(bytes: Uint8Array, at: number, end: number): number {
  const name = String.fromCharCode(...bytes.subarray(at, Math.min(end, at + 3))).toLowerCase();
  if (!['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun'].includes(name)) return at;
  let next = at + 3;
  if (bytes[next] === 44) next++;
  if (bytes[next] !== 32) return at;
  while (next < end && bytes[next] === 32) next++;
  return next;
}

/**
 * A fraction of a second behind a point or a comma, in milliseconds. Behind a comma it has three digits or six and nothing
 * that goes on: in lists a comma parts the time from the next value.
 */
function fraction(bytes: Uint8Array, at: number, end: number): { readonly end: number; readonly value: number } {
  const none = { end: at, value: 0 };
  if ((bytes[at] !== 46 && bytes[at] !== 44) || !isDigit(bytes[at + 1])) return none;
  let next = at + 1;
  let value = 0;
  for (let scale = 100; next < end && isDigit(bytes[next]); next++, scale /= 10)
    value += ((bytes[next] as number) - 48) * scale;
  const digits = next - at - 1;
  const goesOn = next < end && (bytes[next] === 44 || bytes[next] === 46);
  return bytes[at] === 44 && ((digits !== 3 && digits !== 6) || goesOn)
    ? none
    : { end: next, value: Math.floor(value) };
}

/** The zone behind a time, as minutes east of UTC: `Z`, `UTC`, `GMT` or an offset, behind a blank or none. */
function zone(bytes: Uint8Array, at: number, end: number): { readonly end: number; readonly minutes: number } {
  const blank = bytes[at] === 32 ? 1 : 0;
  const text = String.fromCharCode(...bytes.subarray(at + blank, Math.min(end, at + blank + 6)));
  const found = /^(?:UTC|GMT|Z)(?![A-Za-z0-9])|^([+-])(\d\d):?(\d\d)(?!\d)|^([+-])(\d\d)(?![\d:])/.exec(text);
  if (!found || (found[4] && blank === 1)) return { end: at, minutes: 0 };
  const hours = Number(found[2] ?? found[5] ?? 0);
  const minutes = (hours * 60 + Number(found[3] ?? 0)) * ((found[1] ?? found[4]) === '-' ? -1 : 1);
  return { end: at + blank + found[0].length, minutes };
}

/** AM or PM after the clock, as 0 or 12 hours; undefined if there is neither. */
function halfDay(bytes: Uint8Array, at: number): number | undefined {
  if (bytes[at] !== 32 || ((bytes[at + 2] as number) | 32) !== 109) return undefined;
  const first = (bytes[at + 1] as number) | 32;
  return first === 112 ? 12 : first === 97 ? 0 : undefined;
}

function written(bytes: Uint8Array, start: number, end: number, reference: number): Written {
  const at = behindWeekday(bytes, start, end);
  const choices = isDigit(bytes[at]) ? forms.digit : isLetter(bytes[at]) ? forms.letter : [];
  for (const form of choices) {
    const clock = form.extent(bytes, at, end);
    if (clock < 0 || isDigit(bytes[clock])) continue;
    const part = fraction(bytes, clock, end);
    const year = yearBehind(bytes, part.end, end);
    let time = form.read(bytes, at, clock, year === undefined ? reference : Date.UTC(year, 11, 31));
    if (time !== time) continue;
    let next = part.end + (year === undefined ? 0 : 5);
    const half = halfDay(bytes, next);
    if (half !== undefined) {
      next += 3;
      // Twelve is the first hour of a half day.
      const hour = new Date(time).getUTCHours() % 12;
      time = Math.floor(time / 86_400_000) * 86_400_000 + (time % 3_600_000) + (hour + half) * 3_600_000;
    }
    const offset = zone(bytes, next, end);
    return { end: offset.end, time: time + part.value - offset.minutes * 60_000 };
  }
  return nowhere;
}

/** The year after the clock, as asctime writes it; undefined if there is none. */
function yearBehind(bytes: Uint8Array, at: number, end: number): number | undefined {
  if (bytes[at] !== 32 || at + 5 > end) return undefined;
  const text = String.fromCharCode(...bytes.subarray(at + 1, Math.min(end, at + 6)));
  const found = /^((?:19|20)\d\d)(?!\d)/.exec(text);
  return found ? Number(found[1]) : undefined;
}

/** The end of a date and time that begins at `at`, in any of the supported formats; −1 if none begins there. */
export function writtenTimeExtent(bytes: Uint8Array, at: number, end: number): number {
  return written(bytes, at, end, 0).end;
}

/**
 * A date and time in one of the usual ways of writing, in milliseconds since 1970: UTC where it tells no zone; `NaN` where the
 * bytes are none. A time without a year gets the likeliest one, seen from the reference.
 */
export function readWrittenTime(bytes: Uint8Array, start: number, end: number, reference: number): number {
  const { end: found, time } = written(bytes, start, end, reference);
  return found === end ? time : Number.NaN;
}
