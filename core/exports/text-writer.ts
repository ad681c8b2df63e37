import { day } from '../events/time-units.ts';

const encoder = new TextEncoder();

/** Longer texts are copied at once, shorter ones byte by byte, which is faster for them. */
const longText = 64;

const quote = 34;
const backslash = 92;
const comma = 44;
const apostrophe = 39;
const colon = 58;
const point = 46;
const zero = 48;
const letterZ = 90;
const hexadecimal = encoder.encode('0123456789abcdef');
/** What stands for a control character behind a backslash in JSON, where there is something short. */
const shortEscapes: ReadonlyMap<number, number> = new Map(
  [...'\b\f\n\r\t'].map((character, i) => [character.charCodeAt(0), 'bfnrt'.charCodeAt(i)]),
);

/** Text that is put together as UTF-8, without a string for each of its pieces. */
export class TextWriter {
  private bytes = new Uint8Array(1 << 16);
  private length = 0;
  /** The day of the last time, since 1970, and how its date reads. */
  private day = Number.NaN;
  private date = new Uint8Array(0);

  /** The text so far. What is added later may show in it. */
  written(): Uint8Array {
    return this.bytes.subarray(0, this.length);
  }

  /** The text so far, and `more` bytes behind it that mean nothing. */
  view(more: number): DataView {
    this.reserve(more);
    return new DataView(this.bytes.buffer, 0, this.length + more);
  }

  /** How long it is, in bytes: where the next piece begins. */
  get end(): number {
    return this.length;
  }

  /** Adds bytes `start` to `end` (exclusive) of a text as they are. */
  add(source: Uint8Array, start = 0, end = source.length): void {
    const size = end - start;
    this.reserve(size);
    const { bytes, length } = this;
    if (size > longText) bytes.set(source.subarray(start, end), length);
    else for (let i = 0; i < size; i++) bytes[length + i] = source[start + i] as number;
    this.length += size;
  }

  /** Adds a string as it is. */
  addText(text: string): void {
    this.reserve(text.length * 3);
    const { bytes, length } = this;
    for (let i = 0; i < text.length; i++) {
      const code = text.charCodeAt(i);
      if (code > 127) {
        this.length += encoder.encodeInto(text, bytes.subarray(length)).written;
        return;
      }
      bytes[length + i] = code;
    }
    this.length += text.length;
  }

  /** Adds a finite number as JavaScript writes it. */
  addNumber(value: number): void {
    // Most numbers are integers of few digits, which need no string.
    if (value !== (value | 0) || value < 0) {
      this.addText(String(value));
      return;
    }
    let digits = 1;
    for (let most = 10; value >= most; most *= 10) digits++;
    this.reserve(digits);
    const { bytes } = this;
    this.length += digits;
    let rest = value;
    for (let at = this.length - 1; digits > 0; digits--, at--) {
      const shorter = Math.floor(rest / 10);
      bytes[at] = zero + rest - shorter * 10;
      rest = shorter;
    }
  }

  /** Adds a time (milliseconds since 1970) as ISO 8601 in UTC, to the millisecond. */
  addTime(time: number): void {
    const whole = Math.floor(time);
    const today = Math.floor(whole / day);
    // Most are of the same day as the one before.
    if (today !== this.day) {
      this.day = today;
      this.date = encoder.encode(new Date(today * day).toISOString().slice(0, -13));
    }
    this.add(this.date);
    const rest = whole - today * day;
    const seconds = Math.floor(rest / 1_000);
    const minutes = Math.floor(seconds / 60);
    const hours = Math.floor(minutes / 60);
    const thousandths = rest - seconds * 1_000;
    const hundreds = Math.floor(thousandths / 100);
    this.reserve(13);
    this.addTwo(hours, colon);
    this.addTwo(minutes - hours * 60, colon);
    this.addTwo(seconds - minutes * 60, point);
    this.bytes[this.length++] = zero + hundreds;
    this.addTwo(thousandths - hundreds * 100, letterZ);
  }

  /** Two digits, and what is behind them. */
  private addTwo(number: number, behind: number): void {
    const tens = Math.floor(number / 10);
    this.bytes[this.length++] = zero + tens;
    this.bytes[this.length++] = zero + number - tens * 10;
    this.bytes[this.length++] = behind;
  }

  /** Adds a UTF-8 text as a string of JSON (RFC 8259). */
  addJson(source: Uint8Array, start: number, end: number): void {
    this.reserve((end - start) * 6 + 2);
    const { bytes } = this;
    let at = this.length;
    bytes[at++] = quote;
    for (let i = start; i < end; i++) {
      const byte = source[i] as number;
      if (byte >= 32 && byte !== quote && byte !== backslash) bytes[at++] = byte;
      else at = escaped(bytes, at, byte);
    }
    bytes[at++] = quote;
    this.length = at;
  }

  /** Adds a UTF-8 text as a cell of CSV (RFC 4180); one that a spreadsheet would take for a formula gets an apostrophe. */
  addCsv(source: Uint8Array, start: number, end: number): void {
    this.reserve((end - start) * 2 + 3);
    const { bytes } = this;
    let at = this.length;
    let isQuoted = false;
    for (let i = start; i < end && !isQuoted; i++) isQuoted = needsQuotes(source[i] as number);
    if (isQuoted) bytes[at++] = quote;
    if (end > start && beginsFormula(source[start] as number)) bytes[at++] = apostrophe;
    for (let i = start; i < end; i++) {
      const byte = source[i] as number;
      if (byte === quote) bytes[at++] = quote;
      bytes[at++] = byte;
    }
    if (isQuoted) bytes[at++] = quote;
    this.length = at;
  }

  /** Makes sure that so many bytes more have room. */
  private reserve(size: number): void {
    if (this.length + size <= this.bytes.length) return;
    const grown = new Uint8Array(Math.max(this.length + size, this.bytes.length * 2));
    grown.set(this.bytes.subarray(0, this.length));
    this.bytes = grown;
  }
}

/** Writes a character that may not stand by itself in a string of JSON; returns the place behind it. */
function escaped(bytes: Uint8Array, from: number, byte: number): number {
  let at = from;
  bytes[at++] = backslash;
  const short = byte === quote || byte === backslash ? byte : shortEscapes.get(byte);
  if (short !== undefined) {
    bytes[at++] = short;
    return at;
  }
  bytes[at++] = 117;
  bytes[at++] = 48;
  bytes[at++] = 48;
  bytes[at++] = hexadecimal[byte >> 4] as number;
  bytes[at++] = hexadecimal[byte & 15] as number;
  return at;
}

function needsQuotes(byte: number): boolean {
  return byte === quote || byte === comma || byte === 10 || byte === 13;
}

/** `=`, `+`, `-`, `@`, tab and return. */
function beginsFormula(byte: number): boolean {
  return byte === 61 || byte === 43 || byte === 45 || byte === 64 || byte === 9 || byte === 13;
}
