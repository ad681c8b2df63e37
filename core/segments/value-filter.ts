import type { TextColumn } from '../events/columns.ts';
import { readNumber } from '../events/numbers.ts';
import { spreadHash } from '../events/spread-hash.ts';
import { decode, encode, fnvBasis, fnvPrime, hashBytes, type TextTable } from '../events/text-table.ts';
import { isWordByte, lowerByte } from '../events/word-bytes.ts';

/**
 * What says of a value whether it may be among many: never false of one that is. A Bloom filter (B. H. Bloom,
 * "Space/time trade-offs in hash coding with allowable errors", 1970) whose places come from two hashes (A. Kirsch and
 * M. Mitzenmacher, "Less hashing, same performance", 2006). The number of bits is a power of two, from 64 up.
 */
export type ValueFilter = Uint8Array;

/** Bits that a value sets. */
const places = 4;
/** Bits a value may need at first; a filter that turns out emptier is folded. */
const bitsPerValue = 16;
/** A filter is folded as long as no larger share of its bits is set afterwards: of values that are not there, one in 27 passes. */
const fullEnough = 0.44;
/** A filter with a larger share of set bits says too little to be kept. */
const tooFull = 0.6;

/** Collects values for a filter; `expected` is how many different ones there are at most. */
export class ValueFilterBuilder {
  private readonly bits: Uint8Array;
  private readonly mask: number;

  constructor(expected: number) {
    const size = 2 ** Math.ceil(Math.log2(Math.max(64, expected * bitsPerValue)));
    this.bits = new Uint8Array(size / 8);
    this.mask = size - 1;
  }

  /** Adds a value by its hash. */
  add(hash: number): void {
    const { bits, mask } = this;
    const step = stepOf(hash);
    let place = hash;
    for (let i = 0; i < places; i++) {
      const bit = place & mask;
      bits[bit >>> 3] = (bits[bit >>> 3] as number) | (1 << (bit & 7));
      place = (place + step) | 0;
    }
  }

  /** The filter, as small as it may be; undefined where it would let nearly everything pass. */
  filter(): ValueFilter | undefined {
    let { bits } = this;
    if (setBits(bits) > bits.length * 8 * tooFull) return undefined;
    while (bits.length > 8) {
      const half = bits.length / 2;
      const folded = bits.slice(0, half);
      for (let i = 0; i < half; i++) folded[i] = (folded[i] as number) | (bits[half + i] as number);
      if (setBits(folded) > half * 8 * fullEnough) break;
      bits = folded;
    }
    return bits;
  }
}

/** Whether a value, by its hash, may be among those that a filter was made of. */
export function mayContain(filter: ValueFilter, hash: number): boolean {
  const mask = filter.length * 8 - 1;
  const step = stepOf(hash);
  let place = hash;
  for (let i = 0; i < places; i++) {
    const bit = place & mask;
    if (((filter[bit >>> 3] as number) & (1 << (bit & 7))) === 0) return false;
    place = (place + step) | 0;
  }
  return true;
}

/** The second hash of a value, odd. */
function stepOf(hash: number): number {
  return spreadHash(hash) | 1;
}

function setBits(bits: Uint8Array): number {
  const words = new Uint32Array(bits.buffer, bits.byteOffset, bits.length >> 2);
  let count = 0;
  for (let word of words) {
    word -= (word >>> 1) & 0x55555555;
    word = (word & 0x33333333) + ((word >>> 2) & 0x33333333);
    count += Math.imul((word + (word >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24;
  }
  return count;
}

/** The hash of a text as it is compared: in lower case. */
export function textHash(bytes: Uint8Array, start: number, end: number): number {
  let hash = fnvBasis;
  for (let i = start; i < end; i++) {
    const byte = bytes[i] as number;
    if (byte > 127) {
      const lower = encode(decode(bytes, start, end).toLowerCase());
      return hashBytes(lower, 0, lower.length);
    }
    hash = Math.imul(hash ^ (lowerByte[byte] as number), fnvPrime);
  }
  return hash;
}

const number = new Float64Array(1);
const halves = new Int32Array(number.buffer);

/** The hash of a number. */
export function numberHash(value: number): number {
  // The two zeros are equal.
  number[0] = value + 0;
  return Math.imul((halves[0] as number) ^ 0x27d4eb2f, 0x9e3779b1) ^ Math.imul(halves[1] as number, 0x165667b1);
}

/** A filter of all texts of a column, and of the numbers as which they read. */
export function filterOfTexts({ table, codes }: TextColumn): ValueFilter | undefined {
  const builder = new ValueFilterBuilder(Math.min(table.count, codes.length));
  const { bytes, offsets } = table;
  for (let code = 0; code < table.count; code++) {
    const start = offsets[code] as number;
    const end = offsets[code + 1] as number;
    builder.add(textHash(bytes, start, end));
    if (end > start && mayBeNumber(bytes[start] as number)) {
      const value = readNumber(bytes, start, end);
      if (value === value) builder.add(numberHash(value));
    }
  }
  return builder.filter();
}

/** Whether a text may read as a number, by its first byte: a digit, a sign or a point. */
function mayBeNumber(first: number): boolean {
  return first >= 43 && first <= 57;
}

/** A filter of all numbers of a column. */
export function filterOfNumbers(values: Float64Array): ValueFilter | undefined {
  const builder = new ValueFilterBuilder(values.length);
  let before = Number.NaN;
  for (let row = 0; row < values.length; row++) {
    const value = values[row] as number;
    if (value !== value || value === before) continue;
    builder.add(numberHash(value));
    before = value;
  }
  return builder.filter();
}

/** Words of a body counted on at most, for each body: more make the filter fuller. */
const wordsPerBody = 4;

/** Words that were added last, by the end of their hash: the words of a phrase come again in most bodies. */
const recentWords = 512;

/** A filter of all words of the bodies. */
export function filterOfWords({ bytes, offsets, count }: TextTable): ValueFilter | undefined {
  const builder = new ValueFilterBuilder(count * wordsPerBody);
  const recent = new Int32Array(recentWords);
  // No hash with this place ends in 1: a hash of 0 is not taken for one that was added.
  recent[0] = 1;
  const add = (hash: number): void => {
    const place = hash & (recentWords - 1);
    if (recent[place] === hash) return;
    recent[place] = hash;
    builder.add(hash);
  };
  for (let row = 0; row < count; row++) {
    const end = offsets[row + 1] as number;
    let hash = fnvBasis;
    let inside = false;
    for (let at = offsets[row] as number; at < end; at++) {
      const byte = bytes[at] as number;
      if (isWordByte[byte] === 1) {
        hash = Math.imul(hash ^ (lowerByte[byte] as number), fnvPrime);
        inside = true;
      } else if (inside) {
        add(hash);
        hash = fnvBasis;
        inside = false;
      }
    }
    if (inside) add(hash);
  }
  return builder.filter();
}
