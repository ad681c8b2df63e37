import { equals, quoted, writeField } from '../conditions/write.ts';
import { encode } from '../events/text-table.ts';
import { guessType } from '../templates/guess-type.ts';
import { literalText } from '../templates/write.ts';
import { LineScanner } from './line-scanner.ts';
import { fieldsMark, isHole, isWord, type Skeleton } from './token.ts';

/** A piece of a shape as people read it: constant text, or a hole with its name and what stood in it. */
export type ShapePiece =
  | { readonly kind: 'text'; readonly text: string }
  | { readonly kind: 'hole'; readonly name: string; readonly type: string; readonly text: string };

/** What holes without a key are called, by the type of what is in them. */
const namesOfTypes: Readonly<Record<string, string>> = {
  iso: 'time',
  clf: 'time',
  syslog: 'time',
  int: 'number',
  number: 'number',
  duration: 'duration',
  size: 'size',
  ip: 'address',
  quoted: 'text',
};

/** A kind of line as a plain text, for labels and titles: its constant words, or the names of its holes where it has none. */
export function shapeWords(pieces: readonly ShapePiece[]): string {
  const words = pieces.map((piece) => (piece.kind === 'text' ? piece.text : piece.text === '-' ? '-' : '…')).join('');
  if (/\p{L}/u.test(words)) return words;
  return pieces.map((piece) => (piece.kind === 'text' ? piece.text : piece.name)).join('');
}

/** The texts of a line's tokens; the tokens of a shape's lines are as many as those of its skeleton. */
export function tokenTexts(line: string): readonly string[] {
  const bytes = encode(line);
  const scanner = new LineScanner();
  scanner.scan(bytes, 0, bytes.length);
  return Array.from({ length: scanner.count }, (_, token) => scanner.text(bytes, token));
}

/** The pieces of a shape, by its skeleton and a line of it. Of events without a line the fields are the pieces. */
export function piecesOf(skeleton: Skeleton, sample: string): readonly ShapePiece[] {
  if (skeleton[0] === fieldsMark) return fieldPieces(skeleton.slice(1));
  const texts = tokenTexts(sample);
  const names = new Map<string, number>();
  const pieces: ShapePiece[] = [];
  skeleton.forEach((token, place) => {
    const text = texts[place] ?? '';
    if (!isHole(token)) {
      const last = pieces.at(-1);
      if (last?.kind === 'text') pieces[pieces.length - 1] = { kind: 'text', text: last.text + token };
      else pieces.push({ kind: 'text', text: token });
      return;
    }
    const type = text === '' || text === '-' ? 'text' : guessType([text]);
    const name = keyBefore(skeleton, place) ?? nameByText(type, text);
    const count = (names.get(name) ?? 0) + 1;
    names.set(name, count);
    pieces.push({ kind: 'hole', name: count === 1 ? name : `${name}${count}`, type, text });
  });
  return pieces;
}

/** Fields that tell something by their values stand with them; of the others the name is the hole. */
function fieldPieces(fields: readonly string[]): readonly ShapePiece[] {
  return fields.flatMap((field, i): readonly ShapePiece[] => {
    const between: readonly ShapePiece[] = i === 0 ? [] : [{ kind: 'text', text: ' ' }];
    return field.includes('=')
      ? [...between, { kind: 'text', text: field }]
      : [...between, { kind: 'hole', name: field, type: 'text', text: '' }];
  });
}

/** The key of a pair whose value is at a place: `berth` in `berth=3` and in `berth="Pier 3"`. */
function keyBefore(skeleton: Skeleton, place: number): string | undefined {
  const at = skeleton[place - 1] === '"' ? place - 1 : place;
  const key = skeleton[at - 2];
  return skeleton[at - 1] === '=' && key !== undefined && isWord(key) ? key : undefined;
}

function nameByText(type: string, text: string): string {
  const known = namesOfTypes[type];
  if (known) return known;
  if (text.startsWith('/')) return 'path';
  if (/^[0-9a-f-]{12,}$/i.test(text)) return 'id';
  return /\d/.test(text) ? 'code' : 'word';
}

/** Fewest constant words by which a shape's lines are asked for. */
const fewestWords = 2;

/**
 * A condition that a person can read for the lines of a shape: their source where they have one alone, and their constant
 * words. Where these are too few it names the shape. It is not exact: other lines may have the same words.
 */
export function readableCondition(
  { id, skeleton, sample }: { readonly id: string; readonly skeleton: Skeleton; readonly sample: string },
  sources: readonly string[],
): string {
  const from = sources.length === 1 ? [equals('source', sources[0] as string)] : [];
  const words = skeleton.filter(isWord).length;
  if (skeleton[0] === fieldsMark || words < fewestWords) return [...from, `shape = ${id}`].join(' ');
  const phrases = piecesOf(skeleton, sample).flatMap((piece) => {
    const text = piece.kind === 'text' ? piece.text.replace(/^[^\p{L}\p{N}]+|[^\p{L}\p{N}]+$/gu, '') : '';
    return /\p{L}{2}/u.test(text) ? [quoted(text)] : [];
  });
  return [...from, ...phrases].join(' ');
}

/** A line template that takes the values out of a shape's lines; undefined for events without a line. */
export function templateOfShape(skeleton: Skeleton, sample: string): string | undefined {
  if (skeleton[0] === fieldsMark) return undefined;
  const pieces = piecesOf(skeleton, sample);
  return pieces
    .map((piece, place) => {
      if (piece.kind === 'text') return literalText(piece.text);
      const isLast = place === pieces.length - 1;
      const type = isLast && piece.type === 'text' ? ':rest' : piece.type === 'text' ? '' : `:${piece.type}`;
      return `{${templateName(piece.name)}${type}}`;
    })
    .join('');
}

function templateName(name: string): string {
  return writeField(name).replaceAll('`', '');
}
