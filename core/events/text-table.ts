// A byte order mark at the beginning of a value is a part of it.
const decoder = new TextDecoder('utf-8', { ignoreBOM: true });
const encoder = new TextEncoder();

/**
 * Texts end to end as UTF-8: text `i` is `bytes[offsets[i] .. offsets[i + 1])`.
 * `offsets` has `count + 1` entries.
 */
export interface TextTable {
  readonly bytes: Uint8Array;
  readonly offsets: Uint32Array;
  readonly count: number;
}

/** The table without any text. */
export const emptyTextTable: TextTable = { bytes: new Uint8Array(0), offsets: new Uint32Array(1), count: 0 };

/** Text `index` of a table as a string. */
export function textAt(table: TextTable, index: number): string {
  return decode(table.bytes, table.offsets[index] ?? 0, table.offsets[index + 1] ?? 0);
}

/**
 * UTF-8 bytes as a string. Short ASCII, by far the most common, is built directly: the decoder's fixed cost is higher.
 */
export function decode(bytes: Uint8Array, start: number, end: number): string {
  if (end - start > 24) return decoder.decode(bytes.subarray(start, end));
  let text = '';
  let at = start;
  // Four characters at a time: a text that is made of few pieces is looked up faster.
  for (; at + 4 <= end; at += 4) {
    const [a, b] = [bytes[at] as number, bytes[at + 1] as number];
    const [c, d] = [bytes[at + 2] as number, bytes[at + 3] as number];
    if ((a | b | c | d) > 127) return decoder.decode(bytes.subarray(start, end));
    text += String.fromCharCode(a, b, c, d);
  }
  for (; at < end; at++) {
    const byte = bytes[at] as number;
    if (byte > 127) return decoder.decode(bytes.subarray(start, end));
    text += String.fromCharCode(byte);
  }
  return text;
}

/** A string as UTF-8. */
export function encode(text: string): Uint8Array {
  return encoder.encode(text);
}

/** Hash of a byte range (FNV-1a, 32 bits: G. Fowler, L. C. Noll, K.-P. Vo). */
export function hashBytes(bytes: Uint8Array, start: number, end: number): number {
  let hash = fnvBasis;
  for (let i = start; i < end; i++) hash = Math.imul(hash ^ (bytes[i] as number), fnvPrime);
  return hash;
}

/** Start value and factor of FNV-1a, for loops that hash while they scan. */
export const fnvBasis = 0x811c9dc5 | 0;
export const fnvPrime = 0x01000193;

/** Collects texts into a {@link TextTable}, either each distinct text once (`intern`) or all of them (`append`). */
export class TextTableBuilder {
  count = 0;
  private bytes = new Uint8Array(256);
  private offsets = new Uint32Array(17);
  private hashes = new Int32Array(16);
  private slots = new Int32Array(32);
  private used = 0;

  /** Index of the text `source[start..end)`, which is added when it is new. */
  intern(source: Uint8Array, start: number, end: number): number {
    return this.internHashed(source, start, end, hashBytes(source, start, end));
  }

  /** As `intern`, for callers that have hashed the bytes (FNV-1a) while scanning them. */
  internHashed(source: Uint8Array, start: number, end: number, hash: number): number {
    const { slots, hashes, offsets, bytes } = this;
    const mask = slots.length - 1;
    const length = end - start;
    let slot = (hash ^ (hash >>> 15)) & mask;
    for (;;) {
      const entry = (slots[slot] as number) - 1;
      if (entry < 0) break;
      if (hashes[entry] === hash) {
        const at = offsets[entry] as number;
        if ((offsets[entry + 1] as number) - at === length) {
          let i = 0;
          while (i < length && bytes[at + i] === source[start + i]) i++;
          if (i === length) return entry;
        }
      }
      slot = (slot + 1) & mask;
    }
    const entry = this.append(source, start, end);
    this.hashes[entry] = hash;
    slots[slot] = entry + 1;
    if (++this.used * 2 > slots.length) this.rehash();
    return entry;
  }

  /** Index of a string, which is added when it is new. */
  internText(text: string): number {
    const bytes = encode(text);
    return this.intern(bytes, 0, bytes.length);
  }

  /** Adds a text without looking whether it is there already; returns its index. */
  append(source: Uint8Array, start: number, end: number): number {
    const length = end - start;
    const index = this.count;
    const at = this.offsets[index] as number;
    this.reserve(at + length, index + 2);
    const { bytes } = this;
    if (length < 48) for (let i = 0; i < length; i++) bytes[at + i] = source[start + i] as number;
    else bytes.set(source.subarray(start, end), at);
    this.offsets[index + 1] = at + length;
    this.count = index + 1;
    return index;
  }

  /** Adds all texts of a table at once; the first gets the returned index. */
  appendAll(table: TextTable): number {
    const first = this.count;
    const at = this.offsets[first] as number;
    const from = table.offsets[0] as number;
    const to = table.offsets[table.count] as number;
    this.reserve(at + to - from, first + table.count + 1);
    this.bytes.set(table.bytes.subarray(from, to), at);
    const shift = at - from;
    for (let i = 1; i <= table.count; i++) this.offsets[first + i] = (table.offsets[i] as number) + shift;
    this.count = first + table.count;
    return first;
  }

  /** Number of bytes of all texts so far. */
  get size(): number {
    return this.offsets[this.count] as number;
  }

  /** The table as it stands. The builder may go on; the table then keeps its own count. */
  table(): TextTable {
    return {
      bytes: this.bytes.subarray(0, this.size),
      offsets: this.offsets.subarray(0, this.count + 1),
      count: this.count,
    };
  }

  private reserve(byteLength: number, offsetLength: number): void {
    if (byteLength > this.bytes.length) {
      const grown = new Uint8Array(Math.max(byteLength, this.bytes.length * 2));
      grown.set(this.bytes.subarray(0, this.size));
      this.bytes = grown;
    }
    if (offsetLength > this.offsets.length) {
      const grown = new Uint32Array(Math.max(offsetLength, this.offsets.length * 2));
      grown.set(this.offsets);
      this.offsets = grown;
      const hashes = new Int32Array(grown.length);
      hashes.set(this.hashes);
      this.hashes = hashes;
    }
  }

  private rehash(): void {
    const slots = new Int32Array(this.slots.length * 4);
    const mask = slots.length - 1;
    for (const old of this.slots) {
      if (old === 0) continue;
      const hash = this.hashes[old - 1] as number;
      let slot = (hash ^ (hash >>> 15)) & mask;
      while (slots[slot] !== 0) slot = (slot + 1) & mask;
      slots[slot] = old;
    }
    this.slots = slots;
  }
}
