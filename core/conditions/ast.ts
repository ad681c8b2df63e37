import type { Unit } from '../events/units.ts';
import type { Pattern } from '../patterns/pattern.ts';

/** Where something is in the text of a condition: from `start` up to, not including, `end`. */
export interface Span {
  readonly start: number;
  readonly end: number;
}

/** A value as written. `number` is set when it reads as a number, with a unit converted to seconds or bytes. */
export interface ConditionValue extends Span {
  readonly text: string;
  readonly quoted: boolean;
  readonly number?: number;
  readonly unit?: Unit;
}

export type CompareOperator = '=' | '!=' | '<' | '<=' | '>' | '>=';

/** The meaning of a condition. */
export type ConditionNode =
  | { readonly kind: 'everything' }
  | { readonly kind: 'and' | 'or'; readonly parts: readonly ConditionNode[] }
  | { readonly kind: 'not'; readonly part: ConditionNode }
  | WordNode
  | {
      readonly kind: 'compare';
      readonly field: string;
      readonly operator: CompareOperator;
      readonly value: ConditionValue;
    }
  | { readonly kind: 'in'; readonly field: string; readonly values: readonly ConditionValue[] }
  | { readonly kind: 'range'; readonly field: string; readonly low?: ConditionValue; readonly high?: ConditionValue }
  | { readonly kind: 'matches'; readonly field: string; readonly pattern: Pattern }
  | { readonly kind: 'has'; readonly field: string };

/** A text looked for in the body. `wordStart` and `wordEnd`: it must begin or end where a word does. */
export interface WordNode {
  readonly kind: 'word';
  readonly text: string;
  readonly wordStart: boolean;
  readonly wordEnd: boolean;
}

/** What is wrong with a condition, where, and what to write instead when that is known. */
export interface ConditionProblem extends Span {
  readonly message: string;
  readonly suggestion?: string;
}

/** The names that every event has, besides its attributes. */
export const builtInFields = [
  'time',
  'received',
  'severity',
  'body',
  'source',
  'emitter',
  'fleet',
  'tier',
  'shape',
  'raw_bytes',
] as const;
