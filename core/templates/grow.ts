import { decode, encode } from '../events/text-table.ts';
import { fitClosely } from './fit-closely.ts';
import { linePieces } from './line-pieces.ts';
import { mineTemplates } from './mine.ts';
import { type Template, templateOf } from './template.ts';
import { literalText, writeTemplate } from './write.ts';

/** A template extended at one or both ends. */
export interface Grown {
  readonly template: string;
  readonly where: 'in front' | 'at the end' | 'at both ends';
}

/** Most pieces of a line before the template's match. */
const mostInFront = 8;
/** The least share of lines that must match the template, and have the same extra text. */
const sameWay = 0.5;

/** The text of a line before and after a template's match. */
interface Ends {
  readonly before: string;
  readonly behind: string;
}

/**
 * Lets a template grow by what lines have more than it takes, in front or at the end: its own holes keep their names and types.
 * Undefined where it takes no part of most of them, or where nothing is left over.
 */
export function growTemplate(text: string, lines: readonly string[]): Grown | undefined {
  // A text hole at the end would match the rest of the line; here it takes one word.
  const isOpen = endsInText(templateOf(text));
  const template = templateOf(isOpen ? `${text} {:rest}` : text);
  const ends = lines.flatMap((line) => endsOf(template, line, isOpen) ?? []);
  if (ends.length === 0 || ends.length < lines.length * sameWay) return undefined;
  const names = new Set(template.holes.map(({ name }) => name));
  const before = grownEnd(
    ends.map((end) => end.before).filter((end) => end !== ''),
    ends.length,
    names,
  );
  const behind = grownEnd(
    ends.map((end) => end.behind).filter((end) => end !== ''),
    ends.length,
    names,
  );
  if (before === undefined || behind === undefined || before + behind === '') return undefined;
  return {
    template: before + text + behind,
    where: before === '' ? 'at the end' : behind === '' ? 'in front' : 'at both ends',
  };
}

function endsInText({ pieces }: Template): boolean {
  const last = pieces[pieces.length - 1];
  return last?.kind === 'hole' && !last.type.extent;
}

/** The text before and after the match of a template in a line; undefined without a match. */
function endsOf(template: Template, line: string, isOpen: boolean): Ends | undefined {
  const spans = new Int32Array(template.holes.length * 2);
  let from = 0;
  for (const piece of [undefined, ...linePieces(line.slice(0, 400), 'within').slice(0, mostInFront)]) {
    from += piece?.text.length ?? 0;
    if (piece && piece.kind !== 'separator') continue;
    const rest = encode(line.slice(from));
    const failed = fitClosely(template, rest, spans);
    const more = spans[spans.length - 2] as number;
    if (isOpen && failed < 0) return { before: line.slice(0, from), behind: ` ${decode(rest, more, rest.length)}` };
    const goesOn = failed === template.pieces.length;
    if (failed >= 0 && !goesOn) continue;
    const at = goesOn ? template.failedAt() : rest.length;
    // The match has skipped the blanks before the extra text; they belong to it.
    const head = decode(rest, 0, at);
    const blanks = /\s*$/.exec(head)?.[0] ?? '';
    return { before: line.slice(0, from), behind: goesOn ? blanks + line.slice(from + head.length) : '' };
  }
  return undefined;
}

/** A template for the extra text at one end; empty if few lines have any, undefined if no template matches it. */
function grownEnd(ends: readonly string[], of: number, names: ReadonlySet<string>): string | undefined {
  if (ends.length < of * sameWay) return '';
  // Web servers append the duration of the request to access lines, in seconds with three decimals.
  const isAccess = names.has('path') && names.has('status') && !names.has('took');
  if (isAccess && ends.every((end) => /^ \d+\.\d{3}$/.test(end))) return ' {took:seconds}';
  if (new Set(ends).size === 1) return literalText(ends[0] ?? '');
  const [best] = mineTemplates(ends, names)
    .map(({ pieces }) => writeTemplate(pieces))
    .map((template) => ({ template, share: ends.filter((end) => fitsEnd(template, end)).length }))
    .sort((a, b) => b.share - a.share);
  return best && best.share >= ends.length * sameWay ? best.template : undefined;
}

function fitsEnd(text: string, end: string): boolean {
  try {
    const template = templateOf(text);
    return fitClosely(template, encode(end), new Int32Array(template.holes.length * 2)) < 0;
  } catch {
    return false;
  }
}
