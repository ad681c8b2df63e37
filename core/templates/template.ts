import { generateMatch } from './generate.ts';
import { interpretMatch } from './interpret.ts';
import { type Hole, parseTemplate, type TemplatePiece, type TemplateProblem } from './parse.ts';

/** A compiled line template. */
export interface Template {
  readonly text: string;
  readonly pieces: readonly TemplatePiece[];
  /** The holes in order; the spans that `match` writes belong to them. */
  readonly holes: readonly Hole[];
  /**
   * Matches the line `bytes[start..end)`. On success returns −1 and `spans` holds start and end of each hole's value
   * (start −1: the hole is empty). Otherwise returns the index of the piece that did not fit; `failedAt` tells where.
   * `spans` has at least twice as many entries as there are holes. Linear in the length of the line.
   */
  readonly match: (bytes: Uint8Array, start: number, end: number, spans: Int32Array) => number;
  /** The offset at which the last unsuccessful match stopped. */
  readonly failedAt: () => number;
}

export type CompiledTemplate =
  | { readonly ok: true; readonly template: Template }
  | { readonly ok: false; readonly problem: TemplateProblem };

let codeMayBeMade: boolean | undefined;

/** Whether code may be made from text here: a page whose content security policy is strict forbids it. */
function mayMakeCode(): boolean {
  if (codeMayBeMade === undefined) {
    try {
      codeMayBeMade = new Function('return true')() === true;
    } catch {
      codeMayBeMade = false;
    }
  }
  return codeMayBeMade;
}

/** Compiles a template into scanning for the constant text between its holes. */
export function compileTemplate(text: string): CompiledTemplate {
  const parsed = parseTemplate(text);
  if (!parsed.ok) return parsed;
  const { pieces } = parsed;
  const holes = pieces.filter((piece): piece is Hole => piece.kind === 'hole');
  const { match, failedAt } = mayMakeCode() ? generateMatch(pieces) : interpretMatch(pieces);
  return { ok: true, template: { text, pieces, holes, match, failedAt } };
}

/** As {@link compileTemplate}, for templates that have been checked before; throws on a wrong one. */
export function templateOf(text: string): Template {
  const compiled = compileTemplate(text);
  if (!compiled.ok) throw new Error(compiled.problem.message);
  return compiled.template;
}
