import type { ConditionNode, ConditionValue } from './ast.ts';
import { type FieldNode, isGlob, severityTest } from './evaluate.ts';

/** A part of a condition that is asked of one field or of the body, or its opposite. */
interface Literal {
  readonly node: Exclude<ConditionNode, { readonly kind: 'and' | 'or' | 'not' | 'everything' }>;
  readonly isNot: boolean;
}

/** Parts that must all hold. */
type Conjunction = readonly Literal[];

/** A list of more values is taken as a whole. */
const mostValues = 16;

/** Most conjunctions that a condition is taken apart into; of one with more nothing is said. */
const mostConjunctions = 128;

/**
 * Whether every event that meets `node` meets one of `others` too. True is certain; false where it is not so or cannot be
 * known from the words of the conditions alone.
 */
export function impliesAny(node: ConditionNode, others: readonly ConditionNode[]): boolean {
  const parts = conjunctionsOf(node, false);
  const wider = others.flatMap((other) => conjunctionsOf(other, false) ?? []);
  return parts?.every((part) => isImpossible(part) || wider.some((other) => conjunctionImplies(part, other))) === true;
}

/** Whether no event can meet all of some conditions. True is certain. */
export function canNeverHold(nodes: readonly ConditionNode[]): boolean {
  const parts = conjunctionsOf({ kind: 'and', parts: nodes }, false);
  return parts?.every(isImpossible) === true;
}

/** A condition as alternatives of parts that must all hold (disjunctive normal form); undefined where there are too many. */
function conjunctionsOf(node: ConditionNode, isNot: boolean): readonly Conjunction[] | undefined {
  switch (node.kind) {
    case 'everything':
      return isNot ? [] : [[]];
    case 'not':
      return conjunctionsOf(node.part, !isNot);
    case 'and':
    case 'or': {
      const parts = node.parts.map((part) => conjunctionsOf(part, isNot));
      const known = parts.filter((part) => part !== undefined);
      if (known.length < parts.length) return undefined;
      const joined = (node.kind === 'and') === isNot ? known.flat() : product(known);
      return joined.length > mostConjunctions ? undefined : joined;
    }
    case 'in':
      if (node.values.length > mostValues) return [[{ node, isNot }]];
      return conjunctionsOf({ kind: 'or', parts: node.values.map((value) => equalTo(node.field, value)) }, isNot);
    default:
      return [[{ node, isNot }]];
  }
}

function equalTo(field: string, value: ConditionValue): ConditionNode {
  return { kind: 'compare', field, operator: '=', value };
}

function product(lists: readonly (readonly Conjunction[])[]): readonly Conjunction[] {
  let all: readonly Conjunction[] = [[]];
  for (const list of lists) {
    if (all.length * list.length > mostConjunctions * 8) return new Array<Conjunction>(mostConjunctions + 1).fill([]);
    all = all.flatMap((before) => list.map((part) => [...before, ...part]));
  }
  return all;
}

function isImpossible(part: Conjunction): boolean {
  return part.some((one, i) => part.slice(i + 1).some((other) => implies(one, { ...other, isNot: !other.isNot })));
}

function conjunctionImplies(part: Conjunction, other: Conjunction): boolean {
  return other.every((wanted) => part.some((literal) => implies(literal, wanted)));
}

/** Whether one literal implies another. */
function implies(one: Literal, other: Literal): boolean {
  if (one.isNot === other.isNot && isSame(one.node, other.node)) return true;
  if (one.isNot && other.isNot) return implies({ ...other, isNot: false }, { ...one, isNot: false });
  if (one.isNot || !('field' in one.node) || !('field' in other.node)) return false;
  if (one.node.field.toLowerCase() !== other.node.field.toLowerCase()) return false;
  return fieldImplies(one.node, other.node, other.isNot);
}

/** Whether a condition on a field implies another one on the same field, or that it does not hold (`isNot`). */
function fieldImplies(one: FieldNode, other: FieldNode, isNot: boolean): boolean {
  const field = one.field.toLowerCase();
  if (field === 'severity') {
    const theirs = severitiesOf(other);
    return severitiesOf(one).every((is, severity) => !is || theirs[severity] !== isNot);
  }
  // Whoever meets a condition on an attribute has it.
  if (other.kind === 'has') return !isNot;
  const values = valuesOf(one);
  // A source may be of several fleets: one of them says nothing of the others.
  if (values && !(isNot && field === 'fleet')) return values.every((value) => holds(value, other) === !isNot);
  const [mine, theirs] = [intervalOf(one), intervalOf(other)];
  if (!mine || !theirs) return false;
  if (!isNot) return theirs.low <= mine.low && mine.high <= theirs.high;
  return mine.high < theirs.low || theirs.high < mine.low;
}

/** The only values of a field for which a condition holds; undefined where there may be others. */
function valuesOf(node: FieldNode): readonly ConditionValue[] | undefined {
  const values =
    node.kind === 'in' ? node.values : node.kind === 'compare' && node.operator === '=' ? [node.value] : [];
  return values.length > 0 && !values.some(isGlob) ? values : undefined;
}

/** Whether a condition holds for a value of its field; undefined where that is not known. */
function holds(value: ConditionValue, node: FieldNode): boolean | undefined {
  switch (node.kind) {
    case 'has':
      return true;
    case 'in':
      return any(node.values.map((other) => isEqual(value, other)));
    case 'compare': {
      const { operator } = node;
      if (operator !== '=' && operator !== '!=') return within(value, node);
      const equal = isEqual(value, node.value);
      return equal === undefined ? undefined : equal === (operator === '=');
    }
    case 'range':
      return within(value, node);
    case 'matches':
      return undefined;
  }
}

function within(value: ConditionValue, node: FieldNode): boolean | undefined {
  const interval = intervalOf(node);
  if (value.number === undefined || !interval || !isBare(value)) return undefined;
  return interval.low <= value.number && value.number <= interval.high;
}

/** Whether a value may stand for a flag, which has no size. */
function isFlag({ text }: ConditionValue): boolean {
  return /^(true|yes|1|false|no|0)$/i.test(text);
}

/** Whether whatever equals a value has its size: a text such as `2ms` has none, nor has a flag. */
function isBare(value: ConditionValue): boolean {
  return Number(value.text) === value.number && !isFlag(value);
}

/** Whether whatever equals one value equals another; undefined where some may and some may not. */
function isEqual(one: ConditionValue, other: ConditionValue): boolean | undefined {
  if (isGlob(other)) return undefined;
  const isText = one.text.toLowerCase() === other.text.toLowerCase();
  // A value in quotation marks is a text, whatever it reads as; one without stands for a number and for its text.
  const isAlike = (one.number === undefined) === (other.number === undefined);
  if (isText) return isAlike ? true : undefined;
  if (isFlag(one) && isFlag(other)) return undefined;
  return one.number !== undefined && one.number === other.number ? undefined : false;
}

function any(answers: readonly (boolean | undefined)[]): boolean | undefined {
  if (answers.includes(true)) return true;
  return answers.includes(undefined) ? undefined : false;
}

/** The numbers of a field for which a condition holds, both ends among them; undefined for what is no such stretch. */
function intervalOf(node: FieldNode): { readonly low: number; readonly high: number } | undefined {
  const field = node.field.toLowerCase();
  // Times may be said from the present on, which goes on.
  if (field === 'time' || field === 'received') return undefined;
  const everything = { low: Number.NEGATIVE_INFINITY, high: Number.POSITIVE_INFINITY };
  if (node.kind === 'range') {
    const [low, high] = [node.low?.number, node.high?.number];
    if ((node.low && low === undefined) || (node.high && high === undefined)) return undefined;
    return { low: low ?? everything.low, high: high ?? everything.high };
  }
  const number = node.kind === 'compare' ? node.value.number : undefined;
  if (node.kind !== 'compare' || number === undefined) return undefined;
  switch (node.operator) {
    case '=':
      return isBare(node.value) ? { low: number, high: number } : undefined;
    case '>=':
      return { ...everything, low: number };
    case '>':
      return { ...everything, low: nextAbove(number) };
    case '<=':
      return { ...everything, high: number };
    case '<':
      return { ...everything, high: -nextAbove(-number) };
    case '!=':
      return undefined;
  }
}

/** A number hardly above another one: ends that are left out lie within it. */
function nextAbove(number: number): number {
  return number + Math.max(Math.abs(number) * 2 ** -52, Number.MIN_VALUE);
}

/** For each severity from 0 to 24, whether a condition holds for it. */
function severitiesOf(node: FieldNode): readonly boolean[] {
  const test = severityTest(node);
  return Array.from({ length: 25 }, (_, severity) => test(severity));
}

function isSame(one: object, other: object): boolean {
  return textOf(one) === textOf(other);
}

/** What a part says, wherever it is. */
function textOf(node: object): string {
  return JSON.stringify(node, (key, value: unknown) => {
    if (key === 'start' || key === 'end') return undefined;
    return typeof value === 'string' ? value.toLowerCase() : value;
  });
}
