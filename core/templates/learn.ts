import { decode, encode } from '../events/text-table.ts';
import { fitsType, guessType } from './guess-type.ts';
import { templateOf } from './template.ts';
import { type DraftPiece, writeTemplate } from './write.ts';

/** A piece of a line that becomes a field: characters `start` up to, not including, `end`. */
export interface Mark {
  readonly start: number;
  readonly end: number;
  readonly name: string;
  /** The hole type; absent: guessed from the values. */
  readonly type?: string;
}

/** A line with its marks, in order and without overlap. */
export interface MarkedLine {
  readonly line: string;
  readonly marks: readonly Mark[];
}

export type LearntTemplate =
  | {
      readonly ok: true;
      readonly template: string;
      /** How many of the other lines fit. */
      readonly fitting: number;
    }
  | { readonly ok: false; readonly message: string };

/** Other lines looked at when constant text is distinguished from text that varies. */
const mostLines = 400;
/** Times that the text between the marks is loosened. */
const mostRounds = 12;
/** A line belongs to the same kind as the marked ones when this share of the constant words is in it, in order. */
const sameKindShare = 0.6;

/**
 * Writes a template from lines in which someone has marked the fields: the same names in the same order in each. Text
 * between the marks stays constant where it is in all lines; where it differs, between the marked lines or in others of
 * the same kind, it is skipped. Where lines differ in several places, skipping the first makes none of them fit yet:
 * `patience` is how many such steps in a row are gone all the same.
 */
export function learnTemplate(
  marked: readonly MarkedLine[],
  others: readonly string[],
  { patience = 0 }: { readonly patience?: number } = {},
): LearntTemplate {
  const [first] = marked;
  if (!first || first.marks.length === 0) return fault('mark at least one piece of a line');
  const names = first.marks.map((mark) => mark.name).join();
  if (marked.some(({ marks }) => marks.map((mark) => mark.name).join() !== names)) {
    return fault('all marked lines need the same fields in the same order');
  }
  let pieces = alignLines(marked);
  const kind = others.slice(0, mostLines).filter((line) => isSameKind(line, pieces));
  let fit = fitOf(pieces, kind);
  let most = fit.fitting;
  let tried = pieces;
  let inVain = 0;
  for (let round = 0; round < mostRounds && fit.misfits.length > 0; round++) {
    const loosened = loosen(tried, fit.misfits);
    if (!loosened) break;
    tried = loosened;
    fit = fitOf(tried, kind);
    if (fit.fitting > most) {
      pieces = tried;
      most = fit.fitting;
      inVain = 0;
    } else if (++inVain > patience) break;
  }
  const template = writeTemplate(typed(pieces, kind));
  if (!fits(template, first.line)) return fault('two fields need some text between them, or a type that shows its end');
  return { ok: true, template, fitting: others.filter((line) => fits(template, line)).length };
}

function fault(message: string): LearntTemplate {
  return { ok: false, message };
}

/** Whether a line fits a template. */
export function fits(text: string, line: string): boolean {
  try {
    const template = templateOf(text);
    const bytes = encode(line);
    const spans = new Int32Array(template.holes.length * 2);
    if (template.match(bytes, 0, bytes.length, spans) >= 0) return false;
    return template.holes.every((hole, i) => {
      const start = spans[i * 2] as number;
      if (start < 0 || !hole.type.read) return true;
      const value = hole.type.read(bytes, start, spans[i * 2 + 1] as number, Date.now());
      return value === value;
    });
  } catch {
    return false;
  }
}

/** Holes from the marks, and between them what the marked lines have in common. */
function alignLines(marked: readonly MarkedLine[]): readonly DraftPiece[] {
  const [first] = marked as [MarkedLine];
  const pieces: DraftPiece[] = [];
  for (let index = 0; index <= first.marks.length; index++) {
    const gaps = marked.map(({ line, marks }) =>
      line.slice(index === 0 ? 0 : (marks[index - 1] as Mark).end, marks[index]?.start ?? line.length),
    );
    pieces.push(...commonText(gaps));
    const mark = first.marks[index];
    if (!mark) continue;
    const values = marked.map(({ line, marks }) =>
      line.slice((marks[index] as Mark).start, (marks[index] as Mark).end),
    );
    const given = mark.type;
    const optional = values.some((value) => value === '' || value === '-');
    const real = values.filter((value) => value !== '' && value !== '-');
    const isLast = index === first.marks.length - 1 && gaps.length > 0 && first.line.length === mark.end;
    const guessed = guessType(real);
    const type =
      given ?? (guessed === 'text' && isLast && real.some((value) => value.includes(' ')) ? 'rest' : guessed);
    pieces.push({ kind: 'hole', name: mark.name, type, optional, values: real, fixed: given !== undefined });
  }
  return pieces;
}

/** Words and single other characters; runs of blanks are one. */
function tokens(text: string): readonly string[] {
  return text.match(/[A-Za-z0-9_]+|\s+|[^\sA-Za-z0-9_]/g) ?? [];
}

/** What some texts have in common, from both ends; what differs between is skipped. */
function commonText(texts: readonly string[]): readonly DraftPiece[] {
  const [first = '', ...others] = texts;
  if (others.every((text) => text === first)) return first === '' ? [] : [{ kind: 'literal', text: first }];
  const cut = texts.map(tokens);
  const shortest = Math.min(...cut.map((list) => list.length));
  let head = 0;
  while (head < shortest && cut.every((list) => list[head] === cut[0]?.[head])) head++;
  let tail = 0;
  while (
    tail < shortest - head &&
    cut.every((list) => list[list.length - 1 - tail] === cut[0]?.[(cut[0]?.length ?? 0) - 1 - tail])
  )
    tail++;
  const pieces = cut[0] as readonly string[];
  const before = pieces.slice(0, head).join('');
  const after = pieces.slice(pieces.length - tail).join('');
  return [
    ...(before === '' ? [] : [{ kind: 'literal', text: before } as const]),
    { kind: 'skip' },
    ...(after === '' ? [] : [{ kind: 'literal', text: after } as const]),
  ];
}

function isSameKind(line: string, pieces: readonly DraftPiece[]): boolean {
  const words = pieces.flatMap((piece) =>
    piece.kind === 'literal' ? tokens(piece.text).filter((word) => /\S/.test(word)) : [],
  );
  let at = 0;
  let found = 0;
  for (const word of words) {
    const next = line.indexOf(word, at);
    if (next < 0) continue;
    found++;
    at = next + word.length;
  }
  return words.length === 0 || found / words.length >= sameKindShare;
}

interface Misfit {
  readonly line: string;
  /** Index of the piece that did not fit, and where in the line. */
  readonly piece: number;
  readonly at: number;
}

function fitOf(
  pieces: readonly DraftPiece[],
  lines: readonly string[],
): { fitting: number; misfits: readonly Misfit[] } {
  let template: ReturnType<typeof templateOf>;
  try {
    template = templateOf(writeTemplate(pieces));
  } catch {
    return { fitting: -1, misfits: [] };
  }
  const spans = new Int32Array(template.holes.length * 2);
  const misfits: Misfit[] = [];
  let fitting = 0;
  for (const line of lines) {
    const bytes = encode(line);
    const piece = template.match(bytes, 0, bytes.length, spans);
    if (piece < 0) fitting++;
    else misfits.push({ line, piece, at: decode(bytes, 0, template.failedAt()).length });
  }
  return { fitting, misfits };
}

/** Loosens the piece that most lines do not fit: a hole becomes text or optional, of a constant text a part is skipped. */
function loosen(pieces: readonly DraftPiece[], misfits: readonly Misfit[]): readonly DraftPiece[] | undefined {
  const counts = new Map<number, number>();
  for (const { piece } of misfits) counts.set(piece, (counts.get(piece) ?? 0) + 1);
  const worst = [...counts].sort((a, b) => b[1] - a[1])[0]?.[0];
  if (worst === undefined) return undefined;
  const lines = misfits.filter(({ piece }) => piece === worst);
  const piece = pieces[worst];
  if (piece?.kind === 'hole') return loosenHole(pieces, worst, piece, lines);
  if (piece?.kind === 'literal') return loosenLiteral(pieces, worst, piece.text, lines);
  return undefined;
}

function loosenHole(
  pieces: readonly DraftPiece[],
  index: number,
  hole: Extract<DraftPiece, { kind: 'hole' }>,
  lines: readonly Misfit[],
): readonly DraftPiece[] | undefined {
  const next = pieces[index + 1];
  const absent = lines.some(
    ({ line, at }) =>
      (line.charAt(at) === '-' && !/[\d.]/.test(line.charAt(at + 1))) ||
      (next?.kind === 'literal' && line.startsWith(next.text, at)),
  );
  if (!hole.optional && absent) return replaced(pieces, index, [{ ...hole, optional: true }]);
  if (hole.fixed || hole.type === 'text') return undefined;
  return replaced(pieces, index, [{ ...hole, type: hole.type === 'int' ? 'number' : 'text' }]);
}

function loosenLiteral(
  pieces: readonly DraftPiece[],
  index: number,
  text: string,
  lines: readonly Misfit[],
): readonly DraftPiece[] | undefined {
  const tokensOfText = tokens(text);
  // How many tokens of the constant text the lines share: what comes next is what varies.
  const shared = Math.min(...lines.map(({ line, at }) => sharedTokens(tokensOfText, line.slice(at))));
  const word = tokensOfText[shared];
  if (word === undefined || !/[A-Za-z0-9_]/.test(word)) return undefined;
  const before = tokensOfText.slice(0, shared).join('');
  const after = tokensOfText.slice(shared + 1).join('');
  const touchesHole =
    (before === '' && pieces[index - 1]?.kind !== 'literal' && index > 0) ||
    (after === '' && index < pieces.length - 1);
  if (touchesHole) return undefined;
  return replaced(pieces, index, [
    ...(before === '' ? [] : [{ kind: 'literal', text: before } as const]),
    { kind: 'skip' },
    ...(after === '' ? [] : [{ kind: 'literal', text: after } as const]),
  ]);
}

function sharedTokens(own: readonly string[], rest: string): number {
  const theirs = tokens(rest);
  let shared = 0;
  while (shared < own.length && own[shared] === theirs[shared]) shared++;
  return shared;
}

function replaced(pieces: readonly DraftPiece[], index: number, by: readonly DraftPiece[]): readonly DraftPiece[] {
  return [...pieces.slice(0, index), ...by, ...pieces.slice(index + 1)];
}

/** Types that were guessed from few values are checked against what the other lines hold in their place. */
function typed(pieces: readonly DraftPiece[], lines: readonly string[]): readonly DraftPiece[] {
  let current = pieces;
  pieces.forEach((piece, index) => {
    if (piece.kind !== 'hole' || piece.fixed || piece.type === 'text' || piece.type === 'rest') return;
    const looser = replaced(current, index, [{ ...piece, type: 'text' }]);
    const strict = lines.filter((line) => fits(writeTemplate(current), line)).length;
    if (lines.filter((line) => fits(writeTemplate(looser), line)).length > strict * 1.01) current = looser;
  });
  return current;
}

/** Whether a value that someone marked is of a type, so that it can be offered for it. */
export function typesOf(value: string): readonly string[] {
  const types = ['iso', 'clf', 'syslog', 'time', 'int', 'number', 'duration', 'size', 'ip', 'quoted', 'json'];
  return ['text', ...types.filter((type) => fitsType(value, type)), ...(value.includes(' ') ? ['rest'] : [])];
}
