import type { CompareOperator, ConditionNode, ConditionValue, WordNode } from '../conditions/ast.ts';
import { type ConditionContext, evaluate, type FieldNode, isGlob } from '../conditions/evaluate.ts';
import { parseTime } from '../conditions/times.ts';
import { type EventBatch, withAttribute } from '../events/batch.ts';
import { textColumn } from '../events/columns.ts';
import { labelsBatch } from '../events/labels-batch.ts';
import { severityOfClass } from '../events/severity.ts';
import { encode } from '../events/text-table.ts';
import { isWordByte } from '../events/word-bytes.ts';
import type { ColumnStatistics, SegmentStatistics } from './statistics.ts';
import { mayContain, numberHash, textHash, type ValueFilter } from './value-filter.ts';

/** What is known of a segment: its origin, and where it was stored with statistics, these. Times in milliseconds, `to` inclusive. */
export interface KnownSegment {
  readonly source: string;
  readonly tier: string;
  readonly from: number;
  readonly to: number;
  readonly events: number;
  readonly statistics?: SegmentStatistics | undefined;
  /** Fields, in small letters, of which nothing is known: they are made while it is searched. */
  readonly made?: ReadonlySet<string> | undefined;
}

/** Whether some event of a segment may fulfil a condition, and whether some may not: both, where that is not known. */
export interface Verdict {
  readonly may: boolean;
  readonly mayNot: boolean;
}

/** Gives the filter of a column by its name in the segment; undefined where there is none, or it is not at hand. */
export type FilterOf = (column: string) => ValueFilter | undefined;

/** One event without anything; what is asked about is put in. */
const blank = labelsBatch('', {});

const open: Verdict = { may: true, mayNot: true };
const none: Verdict = { may: false, mayNot: true };
const all: Verdict = { may: true, mayNot: false };

/**
 * Judges a condition by what is known of a segment. `may` is false only if the condition holds for none of its events,
 * `mayNot` is false only if it holds for all. Filters are asked for where they could rule a segment out.
 */
export function judge(
  node: ConditionNode,
  segment: KnownSegment,
  context: ConditionContext,
  filterOf: FilterOf,
): Verdict {
  switch (node.kind) {
    case 'everything':
      return all;
    case 'and': {
      let verdict = all;
      for (const part of node.parts) {
        const { may, mayNot } = judge(part, segment, context, filterOf);
        if (!may) return none;
        verdict = { may: true, mayNot: verdict.mayNot || mayNot };
      }
      return verdict;
    }
    case 'or': {
      let verdict = none;
      for (const part of node.parts) {
        const { may, mayNot } = judge(part, segment, context, filterOf);
        if (!mayNot) return all;
        verdict = { may: verdict.may || may, mayNot: true };
      }
      return verdict;
    }
    case 'not': {
      const { may, mayNot } = judge(node.part, segment, context, filterOf);
      return { may: mayNot, mayNot: may };
    }
    case 'word':
      return judgeWord(node, segment, filterOf);
    default:
      return judgeField(node, segment, context, filterOf);
  }
}

function judgeField(node: FieldNode, segment: KnownSegment, context: ConditionContext, filterOf: FilterOf): Verdict {
  if (segment.made?.has(node.field.toLowerCase())) return open;
  switch (node.field.toLowerCase()) {
    case 'source':
    case 'tier':
    case 'fleet':
      return exact(node, { ...blank, source: segment.source }, { ...context, tier: segment.tier });
    case 'time':
      return judgeTime(node, segment, context.now);
    case 'severity':
      return judgeSeverity(node, segment, context);
    case 'received':
      return open;
    case 'shape':
      return judgeShapes(node, segment, context);
    case 'body':
      return segment.statistics && !segment.statistics.columns.has('body') ? none : open;
    case 'emitter':
      return judgeColumns(node, segment, ['emitter'], filterOf);
    case 'raw_bytes':
      return judgeColumns(node, segment, ['size'], filterOf);
    default:
      return judgeColumns(node, segment, attributeColumns(segment, node.field), filterOf);
  }
}

/** Evaluates a condition on a batch that stands for what the events of the segment have. */
function exact(node: ConditionNode, batch: EventBatch, context: ConditionContext): Verdict {
  const mask = evaluate(node, batch, context);
  return { may: mask.includes(1), mayNot: mask.includes(0) };
}

function judgeTime(node: FieldNode, { from, to }: KnownSegment, now: number): Verdict {
  const time = (value: ConditionValue): number => parseTime(value.text, now) ?? Number.NaN;
  // Times are compared with their fractions of a millisecond, which the bounds do not have.
  if (node.kind === 'compare') return compareRange(node.operator, time(node.value), { low: from, high: to + 1 });
  if (node.kind === 'range') {
    const low = node.low ? time(node.low) : Number.NEGATIVE_INFINITY;
    const high = node.high ? time(node.high) : Number.POSITIVE_INFINITY;
    return within({ low: from, high: to + 1 }, low, high);
  }
  return node.kind === 'has' ? all : open;
}

/** Segments with few shapes know them; the ids may have become others since. */
function judgeShapes(node: FieldNode, { statistics, events }: KnownSegment, context: ConditionContext): Verdict {
  if (!statistics) return open;
  const known = statistics.columns.get('shape');
  if (!known) return none;
  if (!known.texts) return open;
  const batch = { ...blank, rows: known.texts.length, shape: textColumn(known.texts) };
  const { may, mayNot } = exact(node, batch, context);
  return { may, mayNot: mayNot || known.rows < events };
}

/** Severities are known by their class; of a class all four numbers are tried. */
function judgeSeverity(node: FieldNode, { statistics }: KnownSegment, context: ConditionContext): Verdict {
  if (!statistics) return open;
  const severities = [...new Set(statistics.minutes.severity)].flatMap((place) =>
    place === 0 ? [0] : [3, 2, 1, 0].map((below) => severityOfClass(place) - below),
  );
  return exact(node, { ...blank, rows: severities.length, severity: Uint8Array.from(severities) }, context);
}

/** The columns of an attribute, its name in any case. */
function attributeColumns({ statistics }: KnownSegment, field: string): readonly string[] {
  return (statistics && columnsByAttribute(statistics).get(field.toLowerCase())) ?? [];
}

/** Of statistics that were asked before: the columns of each attribute, by its name in lower case. */
const byAttribute = new WeakMap<SegmentStatistics, ReadonlyMap<string, readonly string[]>>();

function columnsByAttribute(statistics: SegmentStatistics): ReadonlyMap<string, readonly string[]> {
  const known = byAttribute.get(statistics);
  if (known) return known;
  const columns = new Map<string, string[]>();
  for (const name of statistics.columns.keys()) {
    const colon = name.indexOf(':');
    if (colon < 0) continue;
    const attribute = name.slice(colon + 1).toLowerCase();
    columns.set(attribute, [...(columns.get(attribute) ?? []), name]);
  }
  byAttribute.set(statistics, columns);
  return columns;
}

function judgeColumns(
  node: FieldNode,
  { statistics, events }: KnownSegment,
  names: readonly string[],
  filterOf: FilterOf,
): Verdict {
  if (!statistics) return open;
  let may = false;
  let mayNot = true;
  for (const name of names) {
    const known = statistics.columns.get(name);
    if (!known) continue;
    const verdict = judgeColumn(node, name, known, filterOf);
    may ||= verdict.may;
    // Only a column that every event has, and that is alone, says something of all of them.
    mayNot = names.length > 1 || known.rows < events || verdict.mayNot;
  }
  return { may, mayNot };
}

function judgeColumn(node: FieldNode, name: string, known: ColumnStatistics, filterOf: FilterOf): Verdict {
  if (known.rows === 0) return none;
  if (node.kind === 'has') return all;
  if (name === 'size' || name.startsWith('number:')) return judgeNumbers(node, name, known, filterOf);
  if (name.startsWith('flag:')) return open;
  return judgeTexts(node, name, known, filterOf);
}

function judgeNumbers(node: FieldNode, name: string, known: ColumnStatistics, filterOf: FilterOf): Verdict {
  const { range } = known;
  if (node.kind === 'compare' && node.value.number !== undefined) {
    const verdict = range ? compareRange(node.operator, node.value.number, range) : open;
    if (node.operator !== '=' || !verdict.may) return verdict;
    return { may: isAmong(name, [numberHash(node.value.number)], filterOf), mayNot: verdict.mayNot };
  }
  if (node.kind === 'in' && range && !node.values.some(isGlob)) {
    const values = node.values
      .map(({ number }) => number ?? Number.NaN)
      .filter((value) => value >= range.low && value <= range.high);
    return values.length === 0 ? none : { may: isAmong(name, values.map(numberHash), filterOf), mayNot: true };
  }
  if (node.kind === 'range' && range) {
    const low = node.low ? (node.low.number ?? Number.NaN) : Number.NEGATIVE_INFINITY;
    const high = node.high ? (node.high.number ?? Number.NaN) : Number.POSITIVE_INFINITY;
    return within(range, low, high);
  }
  return open;
}

function judgeTexts(node: FieldNode, name: string, known: ColumnStatistics, filterOf: FilterOf): Verdict {
  if (known.texts) {
    const column = textColumn(known.texts);
    const batch =
      name === 'emitter'
        ? { ...blank, rows: known.texts.length, emitter: column }
        : withAttribute({ ...blank, rows: known.texts.length }, node.field, { text: column });
    return exact(node, batch, { now: 0 });
  }
  const values =
    node.kind === 'compare' && node.operator === '=' ? [node.value] : node.kind === 'in' ? node.values : undefined;
  // What stands for many texts is in no filter.
  if (!values || values.some(isGlob)) return open;
  const hashes = values.flatMap(({ text, quoted, number }) => {
    const wanted = encode(text.toLowerCase());
    const hash = textHash(wanted, 0, wanted.length);
    return quoted || number === undefined ? [hash] : [hash, numberHash(number)];
  });
  return { may: isAmong(name, hashes, filterOf), mayNot: true };
}

function isAmong(name: string, hashes: readonly number[], filterOf: FilterOf): boolean {
  const filter = filterOf(name);
  return !filter || hashes.some((hash) => mayContain(filter, hash));
}

interface Range {
  readonly low: number;
  readonly high: number;
}

function compareRange(operator: CompareOperator, wanted: number, { low, high }: Range): Verdict {
  if (wanted !== wanted) return open;
  switch (operator) {
    case '=':
      return { may: low <= wanted && wanted <= high, mayNot: low !== wanted || high !== wanted };
    case '!=':
      return { may: low !== wanted || high !== wanted, mayNot: low <= wanted && wanted <= high };
    case '<':
      return { may: low < wanted, mayNot: high >= wanted };
    case '<=':
      return { may: low <= wanted, mayNot: high > wanted };
    case '>':
      return { may: high > wanted, mayNot: low <= wanted };
    case '>=':
      return { may: high >= wanted, mayNot: low < wanted };
  }
}

function within(range: Range, low: number, high: number): Verdict {
  if (low !== low || high !== high) return open;
  return { may: range.high >= low && range.low <= high, mayNot: range.low < low || range.high > high };
}

/** A word can be ruled out where one that it must stand in full is not among the words of the bodies. */
function judgeWord(node: WordNode, { statistics }: KnownSegment, filterOf: FilterOf): Verdict {
  if (!statistics) return open;
  const known = statistics.columns.get('body');
  if (!known || known.rows === 0) return none;
  const words = wholeWords(node);
  const filter = words.length > 0 ? filterOf('body') : undefined;
  return filter && !words.every((hash) => mayContain(filter, hash)) ? none : open;
}

/** Hashes of the words that must stand in a body in full. Words that stand for others, or go beyond ASCII, say nothing. */
function wholeWords({ text, wordStart, wordEnd }: WordNode): readonly number[] {
  const bytes = encode(text);
  if (text.includes('*') || bytes.some((byte) => byte > 127)) return [];
  const hashes: number[] = [];
  let start = 0;
  for (let at = 0; at <= bytes.length; at++) {
    if (at < bytes.length && isWordByte[bytes[at] as number] === 1) continue;
    const isWhole = (start > 0 || wordStart) && (at < bytes.length || wordEnd);
    if (at > start && isWhole) hashes.push(textHash(bytes, start, at));
    start = at + 1;
  }
  return hashes;
}
