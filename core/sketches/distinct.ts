import type { NumberReader, NumberWriter } from '../events/number-bytes.ts';
import { spreadHash } from '../events/spread-hash.ts';

/** 2^12 registers: the standard error is 1.04 / √4096 = 1.6 %. */
const bits = 12;
const registers = 1 << bits;
/** Up to this many values are counted exactly. */
const exact = 512;

/**
 * How many different values there are, in little memory: exact for few values, then HyperLogLog (P. Flajolet et al.,
 * 2007, with linear counting for small counts). Values are given by their 32-bit hashes. Plain data.
 */
export interface DistinctSketch {
  seen: Set<number> | undefined;
  registers: Uint8Array | undefined;
}

export function newDistinctSketch(): DistinctSketch {
  return { seen: new Set(), registers: undefined };
}

/** Adds a value by its hash. */
export function addToDistinct(sketch: DistinctSketch, hash: number): void {
  if (sketch.seen) {
    sketch.seen.add(hash | 0);
    if (sketch.seen.size > exact) spill(sketch);
  } else addToRegisters(sketch.registers as Uint8Array, hash);
}

function spill(sketch: DistinctSketch): void {
  const ranks = new Uint8Array(registers);
  for (const hash of sketch.seen ?? []) addToRegisters(ranks, hash);
  sketch.seen = undefined;
  sketch.registers = ranks;
}

function addToRegisters(registers: Uint8Array, hash: number): void {
  const mixed = spreadHash(hash);
  const index = mixed >>> (32 - bits);
  const rank = Math.min(Math.clz32((mixed << bits) | 1) + 1, 32 - bits + 1);
  if (rank > (registers[index] as number)) registers[index] = rank;
}

/** Adds all of `other` to `sketch`. */
export function mergeDistinct(sketch: DistinctSketch, other: DistinctSketch): void {
  if (other.seen) {
    for (const hash of other.seen) addToDistinct(sketch, hash);
    return;
  }
  if (sketch.seen) spill(sketch);
  const ranks = sketch.registers as Uint8Array;
  other.registers?.forEach((rank, i) => {
    if (rank > (ranks[i] as number)) ranks[i] = rank;
  });
}

/** The estimated number of different values. */
export function distinctCount(sketch: DistinctSketch): number {
  if (sketch.seen) return sketch.seen.size;
  let sum = 0;
  let zeros = 0;
  for (const rank of sketch.registers as Uint8Array) {
    sum += 2 ** -rank;
    if (rank === 0) zeros++;
  }
  const estimate = ((0.7213 / (1 + 1.079 / registers)) * registers * registers) / sum;
  return Math.round(estimate <= 2.5 * registers && zeros > 0 ? registers * Math.log(registers / zeros) : estimate);
}

/** Writes a sketch: the hashes of few values, by their differences, or the registers with zeros written as how many there are in a row. */
export function packDistinct(writer: NumberWriter, { seen, registers: ranks }: DistinctSketch): void {
  if (seen) {
    writer.number(seen.size);
    let before = 0;
    for (const hash of [...seen].map((value) => value >>> 0).sort((a, b) => a - b)) {
      writer.number(hash - before);
      before = hash;
    }
    return;
  }
  writer.number(-1);
  for (let i = 0; i < registers; ) {
    const start = i;
    while (i < registers && (ranks as Uint8Array)[i] === 0) i++;
    if (i > start) writer.number(start - i);
    else writer.number((ranks as Uint8Array)[i++] as number);
  }
}

/** Reads what {@link packDistinct} wrote. */
export function unpackDistinct(reader: NumberReader): DistinctSketch {
  const size = reader.number();
  if (size >= 0) {
    const seen = new Set<number>();
    let before = 0;
    for (let left = Math.min(size, exact); left > 0; left--) {
      before += reader.number();
      seen.add(before | 0);
    }
    return { seen, registers: undefined };
  }
  const ranks = new Uint8Array(registers);
  for (let i = 0; i < registers; ) {
    const value = reader.number();
    if (value < 0) i -= value;
    else ranks[i++] = value;
  }
  return { seen: undefined, registers: ranks };
}
