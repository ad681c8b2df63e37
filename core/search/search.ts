import type { Condition } from '../conditions/condition.ts';
import type { ConditionContext } from '../conditions/evaluate.ts';
import { markedRows } from '../conditions/marked.ts';
import type { TimeWindow } from '../conditions/times.ts';
import type { EventBatch } from '../events/batch.ts';
import { gather, sharedCountUp } from '../events/select.ts';
import type { WantedColumns } from '../segments/segment.ts';
import { addToSummary, mergeSummary, newSummaryPartial, type SummaryPartial } from '../summaries/run-summary.ts';
import { type Summary, summaryFields } from '../summaries/summary.ts';
import { type Extraction, makesOneOf } from './extraction.ts';
import { addToFields, type FieldPartials, mergeFields } from './field-summary.ts';
import { type FoundEvent, foundEventAt, storedEventAt } from './found-event.ts';
import { addToHistogram, type Buckets, newHistogram } from './histogram.ts';
import { inOrder, type SearchOrder } from './order.ts';

/** What is asked of the stored events. */
export interface SearchQuery {
  readonly condition: Condition;
  readonly window: TimeWindow;
  /** Events to return; 0 for none. */
  readonly limit: number;
  /** Which of the found events are returned. */
  readonly order: SearchOrder;
  /** Whether all that is found is counted; else it is read no further than the events that are returned lie. */
  readonly isCounted: boolean;
  /** Of the histogram over the window. */
  readonly buckets: Buckets;
  /** Whether to look at what the newest of the found events have in common. */
  readonly fields: boolean;
  readonly summary?: Summary;
  /** Fields that events have for this search alone. */
  readonly extraction?: Extraction;
}

/** Whether the condition or the summary looks at what the query extracts. */
export function looksAtExtracted({ condition, summary, extraction }: SearchQuery): boolean {
  if (!extraction) return false;
  return makesOneOf(extraction, [...condition.attributes, ...(summary ? summaryFields(summary) : [])]);
}

/** What the newest found events have in common is looked for in so many of them. */
export const mostForFields = 20_000;

/** How many of the newest found events (of the oldest, where these are asked for) a search has to look at in whole. */
export function mostNewest({ limit, fields }: SearchQuery): number {
  return fields ? Math.max(limit, mostForFields) : limit;
}

/** What the first pass of a search has found so far. Plain data; two of the same query can be merged. */
export interface FoundPartial {
  /** Found events, weights counted. */
  total: number;
  /** Found events as they are stored, one each. */
  stored: number;
  /** Events looked at, be it by what is known of their segment. */
  scanned: number;
  readonly histogram: Float64Array;
  readonly summary: SummaryPartial | undefined;
}

export function newFound(query: SearchQuery): FoundPartial {
  return {
    total: 0,
    stored: 0,
    scanned: 0,
    histogram: newHistogram(query.buckets),
    summary: query.summary && newSummaryPartial(query.summary),
  };
}

/** What is known of a segment before it is opened, and what is wanted of it. */
export interface FindIn {
  /** All its events lie in the query's window. */
  readonly inside: boolean;
  /** The condition holds for all of them. */
  readonly holds: boolean;
  /** They have been counted already: only the newest are wanted. */
  readonly counted: boolean;
  /** Whether the newest of them are wanted. */
  readonly newest: boolean;
}

/** The columns that the first pass has to read of a segment. */
export function columnsToFind(query: SearchQuery, { inside, holds, counted, newest }: FindIn): WantedColumns {
  const { condition, summary, buckets } = query;
  const from = looksAtExtracted(query) ? query.extraction?.from : undefined;
  const asked = [
    ...(holds ? [] : condition.attributes),
    ...(summary && !counted ? summaryFields(summary) : []),
    ...(from === undefined ? [] : [from]),
  ];
  const names = new Set(asked.map((field) => field.toLowerCase()));
  const isRead = (name: string): boolean => names.has(name) || (!holds && mentions(condition, name));
  const counts = !counted && buckets.count > 0;
  const edges = summary?.aggregates.some(({ function: name }) => name === 'first' || name === 'last') ?? false;
  const timed = !counted && (edges || (summary?.every ?? 0) > 0);
  return {
    attributes: names,
    body: (!holds && condition.body) || from === 'body',
    emitter: isRead('emitter'),
    shape: isRead('shape'),
    received: isRead('received'),
    size: isRead('raw_bytes'),
    time: !inside || newest || counts || timed || isRead('time') || isRead('received'),
    severity: counts || isRead('severity'),
  };
}

function mentions(condition: Condition, field: string): boolean {
  return condition.text.toLowerCase().includes(field);
}

/** The rows of a batch that the query picks, in order. */
export function rowsFound(
  { condition, window }: SearchQuery,
  batch: EventBatch,
  context: ConditionContext,
  { inside, holds }: Pick<FindIn, 'inside' | 'holds'>,
): Int32Array {
  if (holds && inside) return sharedCountUp(batch.rows);
  const mask = holds ? new Uint8Array(batch.rows).fill(1) : condition.test(batch, context);
  return inside ? markedRows(mask) : within(mask, batch.time, window);
}

function within(mask: Uint8Array, time: Float64Array, { from, to }: TimeWindow): Int32Array {
  for (let row = 0; row < mask.length; row++) {
    if (mask[row] === 0) continue;
    const at = time[row] as number;
    if (at < from || at >= to) mask[row] = 0;
  }
  return markedRows(mask);
}

/** Counts what was found in a batch: into the total, the histogram and the summary. */
export function addFound(
  partial: FoundPartial,
  query: SearchQuery,
  batch: EventBatch,
  rows: Int32Array,
  tier: string,
): void {
  if (rows.length === 0) return;
  partial.total += weightOf(batch, rows);
  if (query.buckets.count > 0) addToHistogram(partial.histogram, query.buckets, batch, rows);
  if (query.summary && partial.summary) addToSummary(partial.summary, query.summary, batch, rows, tier);
}

function weightOf({ weight, unweighted }: EventBatch, rows: Int32Array): number {
  if (unweighted) return rows.length;
  let total = 0;
  for (let i = 0; i < rows.length; i++) total += weight[rows[i] as number] as number;
  return total;
}

/** Adds all of `other`, found by the same query, to `partial`. */
export function mergeFound(partial: FoundPartial, other: FoundPartial): void {
  partial.total += other.total;
  partial.stored += other.stored;
  partial.scanned += other.scanned;
  for (let i = 0; i < other.histogram.length; i++)
    partial.histogram[i] = (partial.histogram[i] as number) + (other.histogram[i] as number);
  if (partial.summary && other.summary) mergeSummary(partial.summary, other.summary);
}

/** What the second pass of a search has made of the newest found events. Plain data; two can be merged. */
export interface FetchedPartial {
  /** In the order that is asked for. */
  events: FoundEvent[];
  readonly fields: FieldPartials;
  /** Events behind `fields`, weights counted. */
  fieldTotal: number;
}

export function newFetched(): FetchedPartial {
  return { events: [], fields: new Map(), fieldTotal: 0 };
}

/** The columns that the second pass has to read of a segment: with `lines` events are made of them, or fields out of bodies. */
export function columnsToFetch(lines: boolean): WantedColumns {
  return {
    attributes: 'all',
    body: lines,
    emitter: true,
    shape: lines,
    received: lines,
    size: lines,
    time: true,
    severity: true,
  };
}

/** Makes events of some rows of a batch, and looks at what others of them have in common. */
export function fetchRows(
  partial: FetchedPartial,
  batch: EventBatch,
  wanted: { readonly tier: string; readonly lines: Int32Array; readonly fields: Int32Array },
  extraction?: Extraction,
): void {
  const lines = rowsOf(batch, wanted.lines, extraction);
  for (let i = 0; i < lines.rows.length; i++) {
    const found = foundEventAt(batch, wanted.lines[i] as number, wanted.tier);
    // The id is that of the event as it is stored, whatever a search extracts.
    const made = extraction && storedEventAt(lines.batch, lines.rows[i] as number, wanted.tier);
    partial.events.push(made ? { ...made, id: found.id } : found);
  }
  if (wanted.fields.length === 0) return;
  const fields = rowsOf(batch, wanted.fields, extraction);
  addToFields(partial.fields, fields.batch, fields.rows);
  partial.fieldTotal += weightOf(fields.batch, fields.rows);
}

/** Some rows of a batch; where something is extracted, as a batch of their own, which has it. */
function rowsOf(
  batch: EventBatch,
  rows: Int32Array,
  extraction: Extraction | undefined,
): { readonly batch: EventBatch; readonly rows: Int32Array } {
  if (!extraction || rows.length === 0) return { batch, rows };
  const few = extraction.run(gather(batch.source, [{ batch, rows }]));
  return { batch: few, rows: sharedCountUp(few.rows) };
}

/** Adds all of `other`, fetched for the same query, to `partial`. */
export function mergeFetched(partial: FetchedPartial, other: FetchedPartial, order: SearchOrder): void {
  const rank = ({ time }: FoundEvent): number => inOrder(order, time);
  partial.events = [...partial.events, ...other.events].sort((a, b) => rank(b) - rank(a));
  mergeFields(partial.fields, other.fields);
  partial.fieldTotal += other.fieldTotal;
}
