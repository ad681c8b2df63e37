import { decode, encode } from '../events/text-table.ts';
import { fitClosely } from './fit-closely.ts';
import { linePieces } from './line-pieces.ts';
import { mineTemplates } from './mine.ts';
import { type Template, templateOf } from './template.ts';
import { literalText, writeTemplate } from './write.ts';

/** A template that takes more than the one it was made from. */
export interface Grown {
  readonly template: string;
  readonly where: 'in front' | 'at the end' | 'at both ends';
}

/** So many pieces of a line may stand in front of what a template fits. */
const mostInFront = 8;
/** Of lines that go on before or behind a template this share has to do so in the same way. */
const sameWay = 0.5;

/** What of a line a template does not take. */
interface Ends {
  readonly before: string;
  readonly behind: string;
}

/**
 * Lets a template grow by what lines have more than it takes, in front or at the end: its own holes keep their names and types.
 * Undefined where it takes no part of most of them, or where nothing is left over.
 */
export function growTemplate(text: string, lines: readonly string[]): Grown | undefined {
  // A text at the end of a template takes all that follows: lines go on where its first word ends.
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

/** What stands before and behind the part of a line that a template fits; undefined where it fits no part. */
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
    // The blanks before what is left over are passed by the match and belong to it.
    const head = decode(rest, 0, at);
    const blanks = /\s*$/.exec(head)?.[0] ?? '';
    return { before: line.slice(0, from), behind: goesOn ? blanks + line.slice(from + head.length) : '' };
  }
  return undefined;
}

/** A template for what is left over at one end; empty where hardly any line has something there, undefined where none fits it. */
function grownEnd(ends: readonly string[], of: number, names: ReadonlySet<string>): string | undefined {
  if (ends.length < of * sameWay) return '';
  // Web servers write behind an access line how many seconds it took, to the millisecond.
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
