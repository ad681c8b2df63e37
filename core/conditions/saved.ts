import { nearest } from '../patterns/nearest.ts';
import type { ConditionProblem } from './ast.ts';
import { parseCondition } from './parse.ts';

/** Saved conditions by their names; conditions write these in any case. */
export type SavedConditions = ReadonlyMap<string, string>;

export type ExpandedCondition =
  | { readonly ok: true; readonly text: string }
  | { readonly ok: false; readonly problem: ConditionProblem };

/** Longest condition that saved ones may grow to, in characters. */
const longest = 50_000;

/**
 * A condition with every `saved:name` replaced by the condition of that name, in brackets. What is wrong is reported at the
 * place where the name is: that nothing is saved under it, or that it stands for itself. A condition that is wrong in
 * another way stays as it is.
 */
export function expandSaved(text: string, saved: SavedConditions): ExpandedCondition {
  return expand(text, saved, []);
}

function expand(text: string, saved: SavedConditions, within: readonly string[]): ExpandedCondition {
  let expanded = '';
  let at = 0;
  for (const { name, start, end } of parseCondition(text).saved) {
    const refuse = (message: string, suggestion?: string): ExpandedCondition => ({
      ok: false,
      problem: { start, end, message, ...(suggestion && { suggestion }) },
    });
    const key = name.toLowerCase();
    const inner = saved.get(key);
    if (inner === undefined) {
      const near = nearest(name, [...saved.keys()]);
      return refuse(`no search is saved as ${name}`, near && `saved:${near}`);
    }
    if (within.includes(key)) return refuse(`the saved search ${key} stands for itself`);
    const one = expand(inner, saved, [...within, key]);
    if (!one.ok) return within.length > 0 ? one : refuse(`in the saved search ${key}: ${one.problem.message}`);
    if (expanded.length + one.text.length > longest) return refuse('the saved searches are too long together');
    expanded += text.slice(at, start) + inBrackets(one.text);
    at = end;
  }
  return { ok: true, text: expanded + text.slice(at) };
}

/** A condition in brackets, so that it can be part of another; comments do not swallow the bracket. `*` for an empty one. */
export function inBrackets(text: string): string {
  if (text.trim() === '') return '*';
  return text.includes('#') ? `(\n${text}\n)` : `(${text})`;
}
