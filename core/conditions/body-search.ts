import type { TextTable } from '../events/text-table.ts';
import { decode, encode } from '../events/text-table.ts';
import type { WordNode } from './ast.ts';

const lower = new Uint8Array(256);
for (let i = 0; i < 256; i++) lower[i] = i >= 65 && i <= 90 ? i + 32 : i;

/** 1 for bytes that belong to a word: letters, digits, underscore, and everything beyond ASCII. */
const wordByte = new Uint8Array(256);
for (let i = 0; i < 256; i++) {
  wordByte[i] = (i >= 48 && i <= 57) || (i >= 65 && i <= 90) || (i >= 97 && i <= 122) || i === 95 || i > 127 ? 1 : 0;
}

/**
 * Marks the rows whose body holds a text, in any case (`mask[row] = 1`). The bodies lie end to end, so the whole run of
 * them is searched at once, skipping ahead by the last byte looked at (R. N. Horspool, "Practical fast searching in
 * strings", 1980), and hits are then given to their rows.
 */
export function searchBodies(body: TextTable, word: WordNode, mask: Uint8Array): void {
  const needle = encode(word.text.toLowerCase());
  if (needle.some((byte) => byte > 127)) {
    searchSlowly(body, word, mask);
    return;
  }
  const { bytes, offsets, count } = body;
  const length = needle.length;
  const last = length - 1;
  const skip = skips(needle);
  const final = needle[last] as number;
  const end = offsets[count] as number;
  let row = 0;
  let rowEnd = offsets[1] as number;
  let at = (offsets[0] as number) + last;
  while (at < end) {
    const byte = lower[bytes[at] as number] as number;
    if (byte === final) {
      let i = last - 1;
      let from = at - 1;
      while (i >= 0 && lower[bytes[from] as number] === needle[i]) {
        i--;
        from--;
      }
      if (i < 0) {
        const start = at - last;
        while (start >= rowEnd) rowEnd = offsets[++row + 1] as number;
        const rowStart = offsets[row] as number;
        const inside = at < rowEnd;
        const startsWell =
          !word.wordStart ||
          start === rowStart ||
          wordByte[bytes[start - 1] as number] === 0 ||
          wordByte[needle[0] as number] === 0;
        const endsWell =
          !word.wordEnd || at + 1 === rowEnd || wordByte[bytes[at + 1] as number] === 0 || wordByte[final] === 0;
        if (inside && startsWell && endsWell) {
          mask[row] = 1;
          at = rowEnd + last;
          continue;
        }
      }
    }
    at += skip[byte] as number;
  }
}

function skips(needle: Uint8Array): Uint32Array {
  const skip = new Uint32Array(256).fill(needle.length);
  for (let i = 0; i < needle.length - 1; i++) skip[needle[i] as number] = needle.length - 1 - i;
  return skip;
}

/** Beyond ASCII, upper and lower case may differ in length: such words are looked for in strings, row by row. */
function searchSlowly(body: TextTable, word: WordNode, mask: Uint8Array): void {
  const needle = word.text.toLowerCase();
  const before = word.wordStart ? '(?<![\\p{L}\\p{N}_])' : '';
  const after = word.wordEnd ? '(?![\\p{L}\\p{N}_])' : '';
  const pattern = new RegExp(before + needle.replace(/[.*+?^${}()|[\]\\]/g, '\\$&') + after, 'u');
  for (let row = 0; row < body.count; row++) {
    const text = decode(body.bytes, body.offsets[row] as number, body.offsets[row + 1] as number);
    if (pattern.test(text.toLowerCase())) mask[row] = 1;
  }
}
