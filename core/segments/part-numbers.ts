import { encode } from '../events/text-table.ts';

const table = Uint32Array.from({ length: 256 }, (_, byte) => {
  let value = byte;
  for (let bit = 0; bit < 8; bit++) value = value & 1 ? 0xedb88320 ^ (value >>> 1) : value >>> 1;
  return value >>> 0;
});

/**
 * The number under which a part of that name most likely is, from 1 up to 2³²: the CRC-32 of its name (ISO 3309), so
 * that most parts can be read without a look at the header. Whoever reads one by its likely number must compare the
 * name that it holds.
 */
export function likelyNumber(name: string): number {
  let crc = 0xffffffff;
  for (const byte of encode(name)) crc = (table[(crc ^ byte) & 255] as number) ^ (crc >>> 8);
  return ((crc ^ 0xffffffff) >>> 0) + 1;
}

/** Numbers for the parts of a segment: the likely ones, or where two names share one, the next that is free. */
export function numberParts(names: readonly string[]): ReadonlyMap<string, number> {
  const numbers = new Map<string, number>();
  const given = new Set<number>();
  for (const name of names) {
    let number = likelyNumber(name);
    while (given.has(number)) number++;
    given.add(number);
    numbers.set(name, number);
  }
  return numbers;
}
