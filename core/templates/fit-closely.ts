import { encode } from '../events/text-table.ts';
import type { Template } from './template.ts';

/** Opening characters: a text after one of them may contain blanks. */
const opening = /["'[(:]$/;

/**
 * Like `Template.match`, but stricter: values must be readable, and a text hole between blanks takes a single word. Returns −1
 * for a match, the number of pieces if the line continues after the template, otherwise the index of the piece that failed.
 */
export function fitClosely(template: Template, bytes: Uint8Array, spans: Int32Array): number {
  const failed = template.match(bytes, 0, bytes.length, spans);
  if (failed >= 0 && failed < template.pieces.length) return failed;
  let hole = 0;
  for (const [index, piece] of template.pieces.entries()) {
    if (piece.kind !== 'hole') continue;
    const start = spans[hole * 2] as number;
    const end = spans[hole * 2 + 1] as number;
    hole++;
    if (start < 0) continue;
    const value = piece.type.read?.(bytes, start, end, Date.now()) ?? 0;
    if (value !== value) return index;
    const before = template.pieces[index - 1];
    const isEnclosed = before?.kind === 'literal' && opening.test(before.text);
    if (!piece.type.extent && !isEnclosed && hasBlank(bytes, start, end)) return index;
  }
  return failed;
}

/** How many lines a template fits closely. */
export function countFitting(template: Template, lines: readonly string[]): number {
  const spans = new Int32Array(template.holes.length * 2);
  return lines.filter((line) => fitClosely(template, encode(line), spans) < 0).length;
}

function hasBlank(bytes: Uint8Array, start: number, end: number): boolean {
  for (let at = start; at < end; at++) if (bytes[at] === 32 || bytes[at] === 9) return true;
  return false;
}
