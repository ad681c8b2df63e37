import { encode } from '../events/text-table.ts';
import type { Extent } from './hole-types.ts';
import type { Hole, TemplatePiece } from './parse.ts';

/** See `Template.match`. */
export type Match = (bytes: Uint8Array, start: number, end: number, spans: Int32Array) => number;

export interface GeneratedMatch {
  readonly match: Match;
  readonly failedAt: () => number;
}

/** What the generated code is given besides its arguments. */
type Factory = (extents: readonly Extent[], failure: { at: number }) => Match;

/**
 * Writes the match of a template as straight code, so that every scan is a loop of its own over constants: b the bytes,
 * e the end, o the spans, p the place reached, q the end of a value. Nothing of a template's text gets into the code but
 * numbers of its bytes.
 */
export function generateMatch(pieces: readonly TemplatePiece[]): GeneratedMatch {
  const extents: Extent[] = [];
  let holes = 0;
  const code = pieces.map((piece, index) => {
    if (piece.kind === 'literal') return isFound(pieces[index - 1]) ? 'p = t;' : passCode(encode(piece.text), index);
    const after = pieces[index + 1];
    const literal = encode(after?.kind === 'literal' ? after.text : '');
    const scan = piece.type.extent ? `q = x${extents.push(piece.type.extent) - 1}(b, p, e);` : findCode(literal);
    return scan + keepCode(piece, index, holes++ * 2, literal);
  });
  const names = extents.map((_, i) => `x${i} = extents[${i}]`);
  const source = `${names.length > 0 ? `const ${names.join(', ')};` : ''}
    return (b, s, e, o) => {
      let p = s, q = 0, t = 0;
      ${code.join('\n')}
      while (p < e && b[p] <= 32) p++;
      if (p === e) return -1;
      failure.at = p;
      return ${pieces.length};
    };`;
  const factory = new Function('extents', 'failure', source) as Factory;
  const failure = { at: 0 };
  return { match: factory(extents, failure), failedAt: () => failure.at };
}

/** Whether the constant text behind a piece was found and passed while the end of the piece's value was looked for. */
function isFound(piece: TemplatePiece | undefined): boolean {
  return piece?.kind === 'hole' && !piece.type.extent && !piece.optional && piece.type.name !== 'path';
}

const isBlank = (at: string): string => `(b[${at}] === 32 || b[${at}] === 9)`;

/** Passes the blanks that come next. Mostly none do, which one comparison tells. */
const passBlanks = (at: string): string =>
  `if (${at} < e && b[${at}] <= 32) while (${at} < e && ${isBlank(at)}) ${at}++;`;

/** Passes a constant text, or fails where it begins. A blank passes a run of blanks. */
function passCode(literal: Uint8Array, piece: number): string {
  const fail = `{ failure.at = t; return ${piece}; }`;
  return `t = p;${runCode(literal, 'p', fail)}`;
}

/**
 * Passes a text at a place, or does `otherwise`. Its length is tested once, and once more behind each run of blanks: only
 * those may be longer than they are written.
 */
function runCode(text: Uint8Array, at: string, otherwise: string): string {
  const room = (from: number): string =>
    from < text.length ? `if (e - ${at} < ${text.length - from}) ${otherwise}` : '';
  const steps = Array.from(text, (byte, index) =>
    byte === 32
      ? `if (!${isBlank(at)}) ${otherwise} ${at}++; ${passBlanks(at)} ${room(index + 1)}`
      : `if (b[${at}] !== ${byte}) ${otherwise} ${at}++;`,
  );
  return room(0) + steps.join('');
}

/** Sets q to where a text first begins at or after p (−1: nowhere) and t behind it; without a text q to the line's end. */
function findCode(literal: Uint8Array): string {
  const [first = 0] = literal;
  const rest = literal.subarray(1);
  if (literal.length === 0) return 'q = e; while (q > p && b[q - 1] <= 32) q--;';
  const here = first === 32 ? isBlank('q') : `b[q] === ${first}`;
  const run = passBlanks('t');
  if (rest.length === 0)
    return `q = p; while (q < e && !(${here})) q++; t = q + 1; if (q >= e) q = -1; ${first === 32 ? run : ''}`;
  // After the first byte the rest is tried with t; a run of blanks that did not fit is passed at once, which keeps the
  // search linear.
  return `q = p;
    search: for (;;) {
      while (q < e && !(${here})) q++;
      if (q >= e) { q = -1; break; }
      t = q + 1;
      ${first === 32 ? run : ''}
      fits: { ${runCode(rest, 't', 'break fits;')} break search; }
      ${first === 32 ? `while (q + 1 < e && ${isBlank('q + 1')}) q++;` : ''}
      q++;
    }`;
}

/** Writes the span of a value that ends at q, or fails; an optional value may be absent or a dash. */
function keepCode(hole: Hole, piece: number, slot: number, literal: Uint8Array): string {
  const absent = ['q <= p'];
  if (hole.optional) absent.push('(q - p === 1 && b[p] === 45)');
  const blanks =
    hole.type.name === 'path' ? `if (q > p) for (t = p; t < q; t++) if (b[t] === 32) { q = p; break; }` : '';
  const quotes = hole.type.name === 'quoted';
  const none = `o[${slot}] = -1; o[${slot + 1}] = -1;`;
  const missing = hole.optional
    ? `${none} if (p < e && b[p] === 45) p++;`
    : `${none} ${failCode(hole, piece, literal)}`;
  return `${blanks} if (${absent.join(' || ')}) { ${missing} }
    else { o[${slot}] = p${quotes ? ' + 1' : ''}; o[${slot + 1}] = q${quotes ? ' - 1' : ''}; p = q; }`;
}

/** Fails at a value; where the text that ends it never comes, it is that text which is missing. */
function failCode(hole: Hole, piece: number, literal: Uint8Array): string {
  const plain = `failure.at = p; return ${piece};`;
  if (hole.type.extent || literal.length === 0) return plain;
  return `if (q < 0) { for (t = p; t < e && b[t] !== ${literal[0]}; t++); failure.at = t < e ? t : p; return ${piece + 1}; } ${plain}`;
}
