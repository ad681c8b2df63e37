import type { EventBatch } from '../events/batch.ts';
import { type AttributeColumns, missingFlag, type TextColumn } from '../events/columns.ts';
import { readNumber } from '../events/numbers.ts';
import { rawSizes } from '../events/raw-sizes.ts';
import { severityRange } from '../events/severity.ts';
import { decode, encode, type TextTable, textAt } from '../events/text-table.ts';
import { lowerByte } from '../events/word-bytes.ts';
import { compileGlob } from '../patterns/glob.ts';
import { compilePattern } from '../patterns/pattern.ts';
import { builtInFields, type CompareOperator, type ConditionNode, type ConditionValue, type WordNode } from './ast.ts';
import { searchBodies } from './body-search.ts';
import { eachMarked } from './marked.ts';
import type { Mask } from './mask.ts';
import { parseTime } from './times.ts';

/** What a condition may refer to beyond the event itself. */
export interface ConditionContext {
  /** The present, in milliseconds. */
  readonly now: number;
  /** The tier that keeps the events, once they are kept. */
  readonly tier?: string;
  /** The fleets that the batch's source belongs to. */
  readonly fleets?: readonly string[];
  /** The id under which a shape goes now, by one that it ever had; absent: shapes go under the ids that they have. */
  readonly currentShape?: (id: string) => string;
}

/** Evaluates a condition for all rows of a batch at once. */
export function evaluate(node: ConditionNode, batch: EventBatch, context: ConditionContext): Mask {
  switch (node.kind) {
    case 'everything':
      return new Uint8Array(batch.rows).fill(1);
    case 'and':
      return evaluateAll(node.parts, batch, context);
    case 'or':
      return evaluateAny(node.parts, batch, context);
    case 'not': {
      const mask = evaluate(node.part, batch, context);
      for (let row = 0; row < mask.length; row++) mask[row] = (mask[row] as number) ^ 1;
      return mask;
    }
    case 'word': {
      const mask = new Uint8Array(batch.rows);
      if (node.text.includes('*')) markGlob(batch.body, node, mask);
      else if (batch.body.count > 0) searchBodies(batch.body, node, mask);
      return mask;
    }
    default:
      return evaluateField(node, batch, context);
  }
}

/** A condition on one field. */
export type FieldNode = Extract<ConditionNode, { readonly field: string }>;

/** Rows for which all parts hold. Each part only looks at what the parts before it left. */
function evaluateAll(parts: readonly ConditionNode[], batch: EventBatch, context: ConditionContext): Mask {
  let mask: Mask | undefined;
  for (const part of parts) {
    if ('field' in part && isConstant(part.field)) {
      if (!constantHolds(part, batch, context)) return new Uint8Array(batch.rows);
    } else if (!mask) mask = evaluate(part, batch, context);
    else if (mask.includes(1)) narrow(part, batch, context, mask);
    else return mask;
  }
  return mask ?? new Uint8Array(batch.rows).fill(1);
}

/** Rows for which any part holds. */
function evaluateAny(parts: readonly ConditionNode[], batch: EventBatch, context: ConditionContext): Mask {
  const mask = new Uint8Array(batch.rows);
  for (const part of parts) {
    const other = evaluate(part, batch, context);
    for (let row = 0; row < mask.length; row++) mask[row] = (mask[row] as number) | (other[row] as number);
    if (!mask.includes(0)) return mask;
  }
  return mask;
}

/** Takes the rows out of a mask for which a condition does not hold. */
function narrow(node: ConditionNode, batch: EventBatch, context: ConditionContext, mask: Mask): void {
  const columns = node.kind === 'compare' && !isBuiltIn(node.field) ? attributeOf(batch, node.field) : undefined;
  if (node.kind === 'compare' && columns?.text && !columns.number && !columns.flag) {
    const { codes } = columns.text;
    const answers = answersOf(columns.text.table, textTest(node));
    eachMarked(mask, (row) => {
      if (answers[(codes[row] as number) + 1] === 0) mask[row] = 0;
    });
    return;
  }
  const other = evaluate(node, batch, context);
  for (let row = 0; row < mask.length; row++) mask[row] = (mask[row] as number) & (other[row] as number);
}

const builtIn: ReadonlySet<string> = new Set(builtInFields);

/** Whether a field is one that every event has, besides its attributes. */
export function isBuiltIn(field: string): boolean {
  return builtIn.has(field.toLowerCase());
}

/** Whether all events of a batch have the same value of a field, since it belongs to the batch. */
function isConstant(field: string): boolean {
  const name = field.toLowerCase();
  return name === 'source' || name === 'fleet' || name === 'tier';
}

function constantHolds(node: FieldNode, batch: EventBatch, context: ConditionContext): boolean {
  const name = node.field.toLowerCase();
  if (name === 'source') return constantMatches([batch.source], node);
  if (name === 'fleet') return constantMatches(context.fleets ?? [], node);
  return constantMatches(context.tier ? [context.tier] : [], node);
}

function evaluateField(node: FieldNode, batch: EventBatch, context: ConditionContext): Mask {
  const mask = new Uint8Array(batch.rows);
  switch (node.field.toLowerCase()) {
    case 'severity':
      markNumbers(batch.severity, severityTest(node), mask);
      return mask;
    case 'time':
      markNumbers(batch.time, timeTest(node, context.now), mask);
      return mask;
    case 'received':
      markNumbers(batch.received, timeTest(node, context.now), mask);
      return mask;
    case 'source':
    case 'fleet':
    case 'tier':
      return constantHolds(node, batch, context) ? mask.fill(1) : mask;
    case 'emitter':
      markTexts(batch.emitter, textTest(node), mask);
      return mask;
    case 'shape':
      if (batch.shape) markShapes(batch.shape, node, context, mask);
      return mask;
    case 'raw_bytes':
      markNumberColumn(rawSizes(batch.size), node, mask);
      return mask;
    case 'body':
      markBodies(batch.body, node.kind === 'has' ? (_, start, end) => end > start : textTest(node), mask);
      return mask;
    default:
      markAttribute(attributeOf(batch, node.field), node, mask);
      return mask;
  }
}

/** Shapes are compared by the ids under which they go now, on both sides. */
function markShapes({ codes, table }: TextColumn, node: FieldNode, context: ConditionContext, mask: Mask): void {
  const { currentShape } = context;
  const test = textTest(currentShape ? withCurrentShapes(node, currentShape) : node);
  const answers = new Uint8Array(table.count + 1);
  for (let code = 0; code < table.count; code++) {
    const id = textAt(table, code);
    const bytes = encode(currentShape?.(id) ?? id);
    if (test(bytes, 0, bytes.length)) answers[code + 1] = 1;
  }
  for (let row = 0; row < mask.length; row++) mask[row] = answers[(codes[row] as number) + 1] as number;
}

function withCurrentShapes(node: FieldNode, currentShape: (id: string) => string): FieldNode {
  const current = (value: ConditionValue): ConditionValue => ({
    ...value,
    text: currentShape(value.text.toLowerCase()),
  });
  if (node.kind === 'compare') return { ...node, value: current(node.value) };
  return node.kind === 'in' ? { ...node, values: node.values.map(current) } : node;
}

/** The attribute of that name, in any case where none has it exactly. */
function attributeOf(batch: EventBatch, field: string): AttributeColumns | undefined {
  const exact = batch.attributes.get(field);
  if (exact) return exact;
  const wanted = field.toLowerCase();
  for (const [name, columns] of batch.attributes) if (name.toLowerCase() === wanted) return columns;
  return undefined;
}

function markAttribute(columns: AttributeColumns | undefined, node: FieldNode, mask: Mask): void {
  if (!columns) return;
  if (columns.text) markTexts(columns.text, textTest(node), mask);
  if (columns.number) markNumberColumn(columns.number.values, node, mask);
  if (columns.flag) {
    const { values } = columns.flag;
    const test = flagTest(node);
    for (let row = 0; row < mask.length; row++) {
      const value = values[row] as number;
      if (value !== missingFlag && test(value === 1)) mask[row] = 1;
    }
  }
}

type NumberTest = (value: number) => boolean;
/** Whether a text, UTF-8 from `start` up to, not including, `end`, passes. */
interface TextTest {
  (bytes: Uint8Array, start: number, end: number): boolean;
  /** The only text that passes, in lower case and of nothing but ASCII, where there is only one. */
  readonly only?: Uint8Array;
}

/** Comparisons with a number, by far the most common, each have a loop of their own. */
function markNumberColumn(values: Float64Array, node: FieldNode, mask: Mask): void {
  const wanted = node.kind === 'compare' ? node.value.number : undefined;
  if (node.kind !== 'compare' || wanted === undefined) {
    markNumbers(values, numberTest(node), mask);
    return;
  }
  const rows = mask.length;
  switch (node.operator) {
    case '=':
      for (let row = 0; row < rows; row++) if (values[row] === wanted) mask[row] = 1;
      return;
    case '<':
      for (let row = 0; row < rows; row++) if ((values[row] as number) < wanted) mask[row] = 1;
      return;
    case '<=':
      for (let row = 0; row < rows; row++) if ((values[row] as number) <= wanted) mask[row] = 1;
      return;
    case '>':
      for (let row = 0; row < rows; row++) if ((values[row] as number) > wanted) mask[row] = 1;
      return;
    case '>=':
      for (let row = 0; row < rows; row++) if ((values[row] as number) >= wanted) mask[row] = 1;
      return;
    case '!=':
      markNumbers(values, compareNumbers('!=', wanted), mask);
  }
}

function markNumbers(values: Float64Array | Uint8Array, test: NumberTest, mask: Mask): void {
  for (let row = 0; row < mask.length; row++) if (test(values[row] as number)) mask[row] = 1;
}

/** Tests each text of the table once, then copies the answers to the rows. */
function markTexts(column: TextColumn, test: TextTest, mask: Mask): void {
  const { codes, table } = column;
  const answers = answersOf(table, test);
  if (!answers.includes(1)) return;
  for (let row = 0; row < mask.length; row++) if (answers[(codes[row] as number) + 1] === 1) mask[row] = 1;
}

/** For each text of a table, behind an entry for "none", whether a test holds for it. */
function answersOf({ bytes, offsets, count }: TextTable, test: TextTest): Uint8Array {
  const answers = new Uint8Array(count + 1);
  const { only } = test;
  if (only) {
    // Most texts differ in their length, or else at their end.
    const last = only.length - 1;
    const final = only[last] as number;
    for (let code = 0; code < count; code++) {
      const start = offsets[code] as number;
      const end = offsets[code + 1] as number;
      if (end - start !== only.length || (last >= 0 && lowerByte[bytes[end - 1] as number] !== final)) continue;
      if (test(bytes, start, end)) answers[code + 1] = 1;
    }
    return answers;
  }
  for (let code = 0; code < count; code++) {
    if (test(bytes, offsets[code] as number, offsets[code + 1] as number)) answers[code + 1] = 1;
  }
  return answers;
}

function markBodies(body: TextTable, test: TextTest, mask: Mask): void {
  const { bytes, offsets, count } = body;
  for (let row = 0; row < count; row++) {
    const start = offsets[row] as number;
    const end = offsets[row + 1] as number;
    if (end > start && test(bytes, start, end)) mask[row] = 1;
  }
}

/** A word with `*` inside: there any run of characters without blanks stands. */
function markGlob(body: TextTable, word: WordNode, mask: Mask): void {
  const pieces = word.text.split('*').map((piece) => piece.replace(/[.+?^${}()|[\]\\/]/g, '\\$&'));
  const before = word.wordStart ? '(?:^|[^A-Za-z0-9_])' : '';
  const after = word.wordEnd ? '(?:$|[^A-Za-z0-9_])' : '';
  const pattern = compilePattern(before + pieces.join('\\S*') + after, 'i');
  markBodies(body, (bytes, start, end) => pattern.test(bytes, start, end), mask);
}

function constantMatches(values: readonly string[], node: FieldNode): boolean {
  const test = textTest(node);
  return values.some((value) => {
    const bytes = encode(value);
    return test(bytes, 0, bytes.length);
  });
}

function compareNumbers(operator: CompareOperator, wanted: number): NumberTest {
  switch (operator) {
    case '=':
      return (value) => value === wanted;
    case '!=':
      // NaN, the mark of an absent value, differs from everything: it must not count as "different".
      return (value) => value < wanted || value > wanted;
    case '<':
      return (value) => value < wanted;
    case '<=':
      return (value) => value <= wanted;
    case '>':
      return (value) => value > wanted;
    case '>=':
      return (value) => value >= wanted;
  }
}

const never: NumberTest = () => false;

function numberTest(node: FieldNode): NumberTest {
  switch (node.kind) {
    case 'has':
      return (value) => value === value;
    case 'compare':
      if (node.value.number !== undefined) return compareNumbers(node.operator, node.value.number);
      if (isGlob(node.value)) return numberAsText(textTest(node));
      return node.operator === '!=' ? (value) => value === value : never;
    case 'in': {
      const wanted = new Set(node.values.map((value) => value.number));
      const globs = node.values.filter(isGlob).map((value) => numberAsText(equalText(value)));
      return globs.length === 0
        ? (value) => wanted.has(value)
        : (value) => wanted.has(value) || globs.some((test) => test(value));
    }
    case 'range': {
      const low = node.low ? (node.low.number ?? Number.NaN) : Number.NEGATIVE_INFINITY;
      const high = node.high ? (node.high.number ?? Number.NaN) : Number.POSITIVE_INFINITY;
      return (value) => value >= low && value <= high;
    }
    case 'matches':
      return numberAsText(textTest(node));
  }
}

/** Whether a value stands for all texts that its placeholders allow. */
export function isGlob({ text, quoted }: ConditionValue): boolean {
  return !quoted && text.includes('*');
}

function numberAsText(test: TextTest): NumberTest {
  return (value) => {
    if (value !== value) return false;
    const bytes = encode(String(value));
    return test(bytes, 0, bytes.length);
  };
}

function flagTest(node: FieldNode): (value: boolean) => boolean {
  const means = (value: ConditionValue): boolean | undefined =>
    /^(true|yes|1)$/i.test(value.text) ? true : /^(false|no|0)$/i.test(value.text) ? false : undefined;
  switch (node.kind) {
    case 'has':
      return () => true;
    case 'compare': {
      const wanted = means(node.value);
      if (node.operator === '=') return (value) => value === wanted;
      return node.operator === '!=' ? (value) => value !== wanted : () => false;
    }
    case 'in':
      return (value) => node.values.some((candidate) => means(candidate) === value);
    default:
      return () => false;
  }
}

/** Severity compares by word: `= error` means any of the four numbers of error, `> error` those above them. */
/** What a condition on severity asks of the number of one. */
export function severityTest(node: FieldNode): NumberTest {
  const range = (value: ConditionValue): readonly [number, number] =>
    severityRange(value.text) ?? [value.number ?? Number.NaN, value.number ?? Number.NaN];
  switch (node.kind) {
    case 'has':
      return (severity) => severity > 0;
    case 'compare': {
      const [first, last] = range(node.value);
      if (node.operator === '=') return (severity) => severity >= first && severity <= last;
      if (node.operator === '!=') return (severity) => severity < first || severity > last;
      const edge = node.operator === '>' || node.operator === '<=' ? last : first;
      return compareNumbers(node.operator, edge);
    }
    case 'in': {
      const ranges = node.values.map(range);
      return (severity) => ranges.some(([first, last]) => severity >= first && severity <= last);
    }
    case 'range': {
      const low = node.low ? range(node.low)[0] : 0;
      const high = node.high ? range(node.high)[1] : 24;
      return (severity) => severity >= low && severity <= high;
    }
    case 'matches':
      return never;
  }
}

function timeTest(node: FieldNode, now: number): NumberTest {
  const time = (value: ConditionValue): number => parseTime(value.text, now) ?? Number.NaN;
  switch (node.kind) {
    case 'has':
      return () => true;
    case 'compare':
      return compareNumbers(node.operator, time(node.value));
    case 'range': {
      const low = node.low ? time(node.low) : Number.NEGATIVE_INFINITY;
      const high = node.high ? time(node.high) : Number.POSITIVE_INFINITY;
      return (value) => value >= low && value <= high;
    }
    default:
      return never;
  }
}

function textTest(node: FieldNode): TextTest {
  switch (node.kind) {
    case 'has':
      return () => true;
    case 'compare':
      return compareText(node.operator, node.value);
    case 'in': {
      const tests = node.values.map((value) => compareText('=', value));
      return (bytes, start, end) => tests.some((test) => test(bytes, start, end));
    }
    case 'range': {
      const low = node.low ? compareText('>=', node.low) : () => true;
      const high = node.high ? compareText('<=', node.high) : () => true;
      return (bytes, start, end) => low(bytes, start, end) && high(bytes, start, end);
    }
    case 'matches':
      return (bytes, start, end) => node.pattern.test(bytes, start, end);
  }
}

function compareText(operator: CompareOperator, value: ConditionValue): TextTest {
  if (operator === '=') return equalText(value);
  if (operator === '!=') {
    const equal = equalText(value);
    return (bytes, start, end) => !equal(bytes, start, end);
  }
  if (value.number !== undefined) {
    const test = compareNumbers(operator, value.number);
    return (bytes, start, end) => test(readNumber(bytes, start, end));
  }
  const wanted = encode(value.text.toLowerCase());
  return (bytes, start, end) => {
    const order = orderText(bytes, start, end, wanted);
    return operator === '<' ? order < 0 : operator === '<=' ? order <= 0 : operator === '>' ? order > 0 : order >= 0;
  };
}

function equalText(value: ConditionValue): TextTest {
  if (isGlob(value)) {
    const glob = compileGlob(value.text);
    return (bytes, start, end) => glob.test(bytes, start, end);
  }
  const wanted = encode(value.text.toLowerCase());
  const { number } = value;
  if (number === undefined || value.quoted) {
    const same = (bytes: Uint8Array, start: number, end: number): boolean => sameText(bytes, start, end, wanted);
    return wanted.some((byte) => byte > 127) ? same : Object.assign(same, { only: wanted });
  }
  return (bytes, start, end) => sameText(bytes, start, end, wanted) || readNumber(bytes, start, end) === number;
}

function fold(byte: number): number {
  return byte >= 65 && byte <= 90 ? byte + 32 : byte;
}

/** Whether a text equals a lower-case one, ASCII letters in any case. */
function sameText(bytes: Uint8Array, start: number, end: number, wanted: Uint8Array): boolean {
  if (end - start !== wanted.length)
    return wanted.some((byte) => byte > 127) && sameBeyondAscii(bytes, start, end, wanted);
  for (let i = 0; i < wanted.length; i++) {
    if (fold(bytes[start + i] as number) !== wanted[i]) {
      return (bytes[start + i] as number) > 127 && sameBeyondAscii(bytes, start, end, wanted);
    }
  }
  return true;
}

function sameBeyondAscii(bytes: Uint8Array, start: number, end: number, wanted: Uint8Array): boolean {
  return decode(bytes, start, end).toLowerCase() === decode(wanted, 0, wanted.length);
}

function orderText(bytes: Uint8Array, start: number, end: number, wanted: Uint8Array): number {
  const length = Math.min(end - start, wanted.length);
  for (let i = 0; i < length; i++) {
    const difference = fold(bytes[start + i] as number) - (wanted[i] as number);
    if (difference !== 0) return difference;
  }
  return end - start - wanted.length;
}
