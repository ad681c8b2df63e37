import { decode, encode } from '../events/text-table.ts';
import { countFitting, fitClosely } from './fit-closely.ts';
import { compileTemplate, type Template, templateOf } from './template.ts';
import { literalText } from './write.ts';

/** A template with another constant text in one place. */
export interface Altered {
  readonly template: string;
  /** The text that it had there, and the one that the lines have. */
  readonly before: string;
  readonly after: string;
}

/** The longest text that takes the place of another one, in characters. */
const longest = 40;
/** The least share of lines that have the same other text. */
const sameWay = 0.5;

/**
 * Lets a template fit lines in which one of its constant texts has changed, such as ` settle=` for ` amount=`: its fields keep their
 * names and types. Undefined where fewer than half of the lines have the same other text and fit then.
 */
export function alterTemplate(text: string, lines: readonly string[]): Altered | undefined {
  const template = templateOf(text);
  const counts = new Map<string, { readonly before: string; readonly after: string; lines: number }>();
  for (const line of lines) {
    const found = otherText(template, line);
    if (!found) continue;
    const key = JSON.stringify(found);
    const known = counts.get(key);
    if (known) known.lines++;
    else counts.set(key, { ...found, lines: 1 });
  }
  const [best] = [...counts.values()].sort((a, b) => b.lines - a.lines);
  if (!best || best.lines < lines.length * sameWay) return undefined;
  const { before, after } = best;
  const [head, tail, ...more] = text.split(literalText(before));
  // Where the text is there twice, it is not known which of them changed.
  if (head === undefined || tail === undefined || more.length > 0) return undefined;
  const altered = head + literalText(after) + tail;
  const compiled = compileTemplate(altered);
  const count = compiled.ok ? countFitting(compiled.template, lines) : 0;
  return count >= lines.length * sameWay ? { template: altered, before, after } : undefined;
}

/** The constant text at which a line stops fitting, and what it has instead: from the same first to the same last character. */
function otherText(template: Template, line: string): { readonly before: string; readonly after: string } | undefined {
  const bytes = encode(line);
  const failed = fitClosely(template, bytes, new Int32Array(template.holes.length * 2));
  const piece = template.pieces[failed];
  if (piece?.kind !== 'literal' || piece.text.length < 2) return undefined;
  const rest = decode(bytes, template.failedAt(), bytes.length);
  const start = rest.indexOf(piece.text.charAt(0));
  const end = rest.indexOf(piece.text.charAt(piece.text.length - 1), start + 1);
  if (start < 0 || end < 0 || end - start >= longest) return undefined;
  return { before: piece.text, after: rest.slice(start, end + 1) };
}
