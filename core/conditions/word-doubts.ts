import type { Doubt } from './doubts.ts';
import { parseCondition } from './parse.ts';
import { equalsText } from './write.ts';

/** A field with its most frequent values. */
export interface FieldValues {
  readonly name: string;
  readonly top: readonly { readonly value: string; readonly count: number }[];
}

/**
 * Words of a condition that are values of a field: they are looked for in bodies, while the field may be what is meant. `404`
 * gives `status = 404` where events have a status of 404 often. Of several fields the one with most such events is suggested.
 */
export function wordDoubts(text: string, fields: readonly FieldValues[]): readonly Doubt[] {
  const { tokens, problem } = parseCondition(text);
  if (problem) return [];
  return tokens.flatMap(({ kind, start, end }) => {
    const word = text.slice(start, end);
    if (kind !== 'text' || !/^[\w.:-]{2,}$/.test(word)) return [];
    const meant = fields
      .flatMap(({ name, top }) => top.map((value) => ({ name, ...value })))
      .filter(({ value }) => value.toLowerCase() === word.toLowerCase())
      .sort((a, b) => b.count - a.count)[0];
    if (!meant) return [];
    const message = `the word ${word} is looked for in the bodies, and is a value of ${meant.name}`;
    return [{ start, end, message, suggestion: equalsText(meant.name, meant.value) }];
  });
}
