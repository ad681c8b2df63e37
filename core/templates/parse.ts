import { nearest } from '../patterns/nearest.ts';
import { type HoleType, holeTypes } from './hole-types.ts';

/** A hole of a template. `name` is empty for `{}`, which skips. `start` and `end` are offsets in the template. */
export interface Hole {
  readonly kind: 'hole';
  readonly name: string;
  readonly type: HoleType;
  readonly optional: boolean;
  readonly start: number;
  readonly end: number;
}

/** Constant text of a template, every run of blanks written as one. */
export interface Literal {
  readonly kind: 'literal';
  readonly text: string;
  readonly start: number;
  readonly end: number;
}

export type TemplatePiece = Hole | Literal;

/** What is wrong with a template, and where. */
export interface TemplateProblem {
  readonly message: string;
  readonly start: number;
  readonly end: number;
  readonly suggestion?: string;
}

/** The pieces of a template, or the first thing that is wrong with it. */
export type ParsedTemplate =
  | { readonly ok: true; readonly pieces: readonly TemplatePiece[] }
  | { readonly ok: false; readonly problem: TemplateProblem };

const holeShape = /^([\w.@-]*)(\?)?(?::([\w-]+))?(\?)?$/;

/** Parses `{name}`, `{name:type}`, `{name?}`, `{}`; `{{` and `}}` stand for braces. */
export function parseTemplate(template: string): ParsedTemplate {
  const pieces: TemplatePiece[] = [];
  let literal = '';
  let literalStart = 0;
  let at = 0;
  const close = (): void => {
    if (literal !== '') {
      pieces.push({ kind: 'literal', text: literal.replace(/[ \t]+/g, ' '), start: literalStart, end: at });
    }
    literal = '';
  };
  while (at < template.length) {
    const char = template.charAt(at);
    if (literal === '') literalStart = at;
    if ((char === '{' || char === '}') && template.charAt(at + 1) === char) {
      literal += char;
      at += 2;
    } else if (char === '{') {
      close();
      const end = template.indexOf('}', at);
      if (end < 0) return fault('this { is not closed', at, template.length);
      const hole = readHole(template.slice(at + 1, end), at, end + 1);
      if ('message' in hole) return { ok: false, problem: hole };
      const before = pieces[pieces.length - 1];
      if (before?.kind === 'hole' && !before.type.extent) {
        return fault('nothing separates these two holes: put the text that stands between them', before.start, end + 1);
      }
      pieces.push(hole);
      at = end + 1;
    } else if (char === '}') return fault('this } closes nothing; a brace is written }}', at, at + 1);
    else {
      literal += char;
      at++;
    }
  }
  close();
  if (!pieces.some((piece) => piece.kind === 'hole'))
    return fault('a template needs at least one {hole}', 0, template.length);
  return { ok: true, pieces };
}

function fault(message: string, start: number, end: number): ParsedTemplate {
  return { ok: false, problem: { message, start, end } };
}

function readHole(text: string, start: number, end: number): Hole | TemplateProblem {
  const parts = holeShape.exec(text);
  if (!parts) return { message: `{${text}} is not a hole: write {name} or {name:type}`, start, end };
  const typeName = parts[3] ?? 'text';
  const type = holeTypes.get(typeName);
  if (!type) {
    const suggestion = nearest(typeName, [...holeTypes.keys()]);
    return { message: `there is no type ${typeName}`, start, end, ...(suggestion && { suggestion }) };
  }
  return { kind: 'hole', name: parts[1] ?? '', type, optional: Boolean(parts[2] ?? parts[4]), start, end };
}
