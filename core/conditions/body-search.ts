import type { TextTable } from '../events/text-table.ts';
import { decode, encode } from '../events/text-table.ts';
import { isWordByte, lowerByte } from '../events/word-bytes.ts';
import type { WordNode } from './ast.ts';

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
    const byte = lowerByte[bytes[at] as number] as number;
    if (byte === final) {
      let i = last - 1;
      let from = at - 1;
      while (i >= 0 && lowerByte[bytes[from] as number] === needle[i]) {
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
          isWordByte[bytes[start - 1] as number] === 0 ||
          isWordByte[needle[0] as number] === 0;
        const endsWell =
          !word.wordEnd || at + 1 === rowEnd || isWordByte[bytes[at + 1] as number] === 0 || isWordByte[final] === 0;
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
