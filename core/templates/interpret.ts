import { encode } from '../events/text-table.ts';
import type { GeneratedMatch } from './generate.ts';
import type { Hole, TemplatePiece } from './parse.ts';

const isBlank = (byte: number | undefined): boolean => byte === 32 || byte === 9;

/** Where a text ends that is at a place (a blank passes a run of blanks); −1 when it is not there. */
function passed(text: Uint8Array, bytes: Uint8Array, at: number, end: number): number {
  for (const [index, byte] of text.entries()) {
    if (end - at < text.length - index) return -1;
    if (byte !== 32) {
      if (bytes[at++] !== byte) return -1;
      continue;
    }
    if (!isBlank(bytes[at])) return -1;
    while (at < end && isBlank(bytes[at])) at++;
  }
  return at;
}

/** Where the value of a hole ends: where the text behind it begins, or the line without its last blanks; −1: nowhere. */
function valueEnd(hole: Hole, literal: Uint8Array, bytes: Uint8Array, from: number, end: number): number {
  if (hole.type.extent) return hole.type.extent(bytes, from, end);
  if (literal.length === 0) {
    let last = end;
    while (last > from && (bytes[last - 1] as number) <= 32) last--;
    return last;
  }
  for (let at = from; at < end; at++) if (passed(literal, bytes, at, end) >= 0) return at;
  return -1;
}

/** A path ends before a blank: it holds none. */
function withoutBlank(bytes: Uint8Array, from: number, end: number): number {
  for (let at = from; at < end; at++) if (bytes[at] === 32) return from;
  return end;
}

/**
 * The match of a template step by step, the same as {@link generateMatch} writes as code, for places where no code may be
 * made: pages whose content security policy forbids it.
 */
export function interpretMatch(pieces: readonly TemplatePiece[]): GeneratedMatch {
  const texts = pieces.map((piece) => encode(piece.kind === 'literal' ? piece.text : ''));
  let failedAt = 0;
  const fail = (piece: number, at: number): number => {
    failedAt = at;
    return piece;
  };
  return {
    failedAt: () => failedAt,
    match: (bytes, start, end, spans) => {
      let at = start;
      let slot = 0;
      for (const [index, piece] of pieces.entries()) {
        if (piece.kind === 'literal') {
          const next = passed(texts[index] as Uint8Array, bytes, at, end);
          if (next < 0) return fail(index, at);
          at = next;
          continue;
        }
        const literal = texts[index + 1] ?? new Uint8Array(0);
        let last = valueEnd(piece, literal, bytes, at, end);
        if (piece.type.name === 'path' && last > at) last = withoutBlank(bytes, at, last);
        const isAbsent = last <= at || (piece.optional && last - at === 1 && bytes[at] === 45);
        if (!isAbsent) {
          const quotes = piece.type.name === 'quoted' ? 1 : 0;
          spans[slot] = at + quotes;
          spans[slot + 1] = last - quotes;
          at = last;
        } else {
          spans[slot] = -1;
          spans[slot + 1] = -1;
          if (!piece.optional) {
            if (last >= 0 || piece.type.extent || literal.length === 0) return fail(index, at);
            // It is the text that ends the value which is missing.
            let first = at;
            while (first < end && bytes[first] !== literal[0]) first++;
            return fail(index + 1, first < end ? first : at);
          }
          if (at < end && bytes[at] === 45) at++;
        }
        slot += 2;
      }
      while (at < end && (bytes[at] as number) <= 32) at++;
      return at === end ? -1 : fail(pieces.length, at);
    },
  };
}
