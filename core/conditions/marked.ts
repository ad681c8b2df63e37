import type { Mask } from './mask.ts';

const noWords = new Uint32Array(0);

/** A mask four rows at a time; rows that no whole word holds are left to be looked at one by one. */
function wordsOf(mask: Mask): Uint32Array {
  return mask.byteOffset % 4 === 0 ? new Uint32Array(mask.buffer, mask.byteOffset, mask.length >> 2) : noWords;
}

/** Calls `each` for every row that is marked, in order; rows without a mark cost a quarter of a step. */
export function eachMarked(mask: Mask, each: (row: number) => void): void {
  const words = wordsOf(mask);
  for (let word = 0; word < words.length; word++) {
    if (words[word] === 0) continue;
    const end = (word + 1) << 2;
    for (let row = word << 2; row < end; row++) if (mask[row] !== 0) each(row);
  }
  for (let row = words.length << 2; row < mask.length; row++) if (mask[row] !== 0) each(row);
}

/** The rows that are marked, in order. */
export function markedRows(mask: Mask): Int32Array {
  const rows = new Int32Array(countMarked(mask));
  let at = 0;
  eachMarked(mask, (row) => {
    rows[at++] = row;
  });
  return rows;
}

function countMarked(mask: Mask): number {
  const words = wordsOf(mask);
  let count = 0;
  // Each of the four bytes is 0 or 1: multiplied so, the highest byte is their sum.
  for (let word = 0; word < words.length; word++) count += Math.imul(words[word] as number, 0x01010101) >>> 24;
  for (let row = words.length << 2; row < mask.length; row++) count += mask[row] as number;
  return count;
}
