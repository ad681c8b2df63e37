import type { Condition } from '../conditions/condition.ts';
import { type FieldNode, isBuiltIn } from '../conditions/evaluate.ts';

/**
 * A text that every JSON line which fits a condition contains, as regular expressions, one for each thing that the
 * condition demands. They hold the line's key and what its value may begin with, so a line that does not match one of
 * them surely does not fit; one that does still has to be read. Lines that hide text in escapes ({@link hidesText}) must
 * not be judged by them. The idea of looking at raw bytes before parsing is that of S. Palkar et al., "Filter Before You
 * Parse", VLDB 2018.
 */
export function necessaryPatterns(condition: Condition): readonly RegExp[] {
  const { node } = condition;
  const parts = node.kind === 'and' ? node.parts : [node];
  return parts.flatMap((part) => {
    if (!('field' in part) || isBuiltIn(part.field) || part.field.includes('.') || !isPlain(part.field)) return [];
    return [new RegExp(`"${escaped(part.field)}"[ \\t]*:[ \\t]*${valueStart(part)}`, 'gi')];
  });
}

/** Whether any of some JSON lines writes characters as `\\u` escapes, which can stand for any text. */
export function hidesText(lines: string): boolean {
  return lines.includes('\\u');
}

/** Text that JSON writes as it is, and that is the same in any case-folding by a regular expression: ASCII. */
function isPlain(text: string): boolean {
  return /^[\x20-\x7e]+$/.test(text) && !/["\\]/.test(text);
}

function escaped(text: string): string {
  return text.replace(/[.*+?^${}()|[\]]/g, '\\$&').replaceAll('/', '\\\\?/');
}

/** What the value of a member may begin with, as the source of a regular expression; nothing: any value. */
function valueStart(node: FieldNode): string {
  if (node.kind !== 'compare') return '';
  const { value, operator } = node;
  if ((operator === '>=' || operator === '>') && Number.isInteger(value.number) && (value.number as number) > 0) {
    return atLeast(value.number as number);
  }
  if (operator !== '=' || value.number !== undefined) return '';
  const [literal = ''] = value.quoted ? [value.text] : value.text.split('*');
  return isPlain(literal) ? `"${escaped(literal)}` : '';
}

/** Numbers that are not less than a whole number: more digits, as many with no lower first digit, or an exponent. */
function atLeast(least: number): string {
  const digits = String(least);
  const more = `0*[1-9]\\d{${digits.length}}`;
  const same = `0*[${digits.charAt(0)}-9]\\d{${digits.length - 1}}`;
  return `"?[+ ]?(?:${same}|${more}|[\\d.]*e)`;
}

/** The pattern that matches least often in a sample of the lines; undefined when there is none. */
export function rarestPattern(patterns: readonly RegExp[], sample: string): RegExp | undefined {
  const counted = patterns.map((pattern) => ({ pattern, count: [...sample.matchAll(pattern)].length }));
  return counted.sort((a, b) => a.count - b.count)[0]?.pattern;
}

/**
 * Calls `visit` with start and end of each line in which a pattern matches. The text holds a file's bytes, each as one
 * character (Latin-1), since a search in a text is far faster than one over bytes; offsets are those of the bytes.
 */
export function eachMatchingLine(text: string, pattern: RegExp, visit: (start: number, end: number) => void): void {
  pattern.lastIndex = 0;
  for (let found = pattern.exec(text); found; found = pattern.exec(text)) {
    const start = text.lastIndexOf('\n', found.index) + 1;
    let end = text.indexOf('\n', found.index);
    if (end < 0) end = text.length;
    pattern.lastIndex = end;
    visit(start, text.charCodeAt(end - 1) === 13 ? end - 1 : end);
  }
}
