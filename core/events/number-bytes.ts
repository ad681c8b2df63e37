import { decode } from './text-table.ts';

/** Numbers up to this size (either way) are written short where they are whole. */
const mostShort = 2 ** 51;

/** Four groups of seven bits hold numbers below this. */
const fourGroups = 2 ** 28;

/** Texts of so many characters are short. */
const mostShortText = 60;

const encoder = new TextEncoder();

/**
 * Writes numbers and texts one after the other into bytes that grow: whole numbers in groups of seven bits (LEB128, with the
 * sign folded in), others as they are in 64 bits (IEEE 754).
 */
export class NumberWriter {
  private buffer = new Uint8Array(1_024);
  private view = new DataView(this.buffer.buffer);
  private at = 0;

  number(value: number): void {
    this.room(10);
    if (!Number.isInteger(value) || value > mostShort || value < -mostShort || Object.is(value, -0)) {
      this.buffer[this.at++] = 0;
      this.view.setFloat64(this.at, value, true);
      this.at += 8;
      return;
    }
    let rest = value < 0 ? -value * 2 : value * 2 + 1;
    // Beyond 32 bits four groups at a time, so that the groups are cut from whole numbers.
    while (rest > 0x7fffffff) {
      const high = Math.floor(rest / fourGroups);
      const low = rest - high * fourGroups;
      for (let shift = 0; shift < 28; shift += 7) this.buffer[this.at++] = ((low >>> shift) & 127) | 128;
      rest = high;
    }
    while (rest > 127) {
      this.buffer[this.at++] = (rest & 127) | 128;
      rest >>>= 7;
    }
    this.buffer[this.at++] = rest;
  }

  text(value: string): void {
    if (this.shortText(value)) return;
    const bytes = encoder.encode(value);
    this.number(bytes.length);
    this.room(bytes.length);
    this.buffer.set(bytes, this.at);
    this.at += bytes.length;
  }

  /** Writes a short text of ASCII, as most are, without going through the encoder. */
  private shortText(value: string): boolean {
    const { length } = value;
    if (length > mostShortText) return false;
    this.room(length + 2);
    const start = this.at + 1;
    for (let i = 0; i < length; i++) {
      const code = value.charCodeAt(i);
      if (code > 127) return false;
      this.buffer[start + i] = code;
    }
    this.number(length);
    this.at += length;
    return true;
  }

  /** What was written; the writer is done with. */
  bytes(): Uint8Array<ArrayBuffer> {
    return this.buffer.slice(0, this.at);
  }

  private room(bytes: number): void {
    if (this.at + bytes <= this.buffer.length) return;
    const grown = new Uint8Array(Math.max(this.buffer.length * 2, this.at + bytes));
    grown.set(this.buffer);
    this.buffer = grown;
    this.view = new DataView(grown.buffer);
  }
}

/** Reads what a {@link NumberWriter} wrote, in the same order. Reading past the end gives zeros and empty texts. */
export class NumberReader {
  private readonly view: DataView;
  private at = 0;

  constructor(private readonly source: Uint8Array) {
    this.view = new DataView(source.buffer, source.byteOffset, source.byteLength);
  }

  number(): number {
    const first = this.source[this.at++] ?? 1;
    if (first === 0) {
      if (this.at + 8 > this.source.length) return 0;
      this.at += 8;
      return this.view.getFloat64(this.at - 8, true);
    }
    if (first < 128) return (first & 1) === 1 ? first >> 1 : -(first >> 1);
    let value = first & 127;
    let scale = 128;
    for (let byte = first; byte > 127; scale *= 128) {
      byte = this.source[this.at++] ?? 0;
      value += (byte & 127) * scale;
    }
    return (first & 1) === 1 ? (value - 1) / 2 : -value / 2;
  }

  text(): string {
    const length = this.number();
    const start = Math.min(this.at, this.source.length);
    this.at += length;
    return decode(this.source, start, Math.min(this.at, this.source.length));
  }
}
