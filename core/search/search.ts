import type { Condition } from '../conditions/condition.ts';
import type { ConditionContext } from '../conditions/evaluate.ts';
import { markedRows } from '../conditions/marked.ts';
import type { TimeWindow } from '../conditions/times.ts';
import { type EventBatch, type EventRecord, eventAt } from '../events/batch.ts';
import type { WantedColumns } from '../segments/segment.ts';
import { addToFields, type FieldPartials, mergeFields } from './field-summary.ts';
import { addToSummary, mergeSummary, newSummaryPartial, type SummaryPartial } from './run-summary.ts';
import { type Summary, summaryFields } from './summary.ts';

/** What is asked of the stored events. */
export interface SearchQuery {
  readonly condition: Condition;
  readonly window: TimeWindow;
  /** Newest events to return; 0 for none. */
  readonly limit: number;
  /** Buckets of the histogram over the window; 0 for none. */
  readonly buckets: number;
  /** Whether to look at what the found events have in common. */
  readonly fields: boolean;
  readonly summary?: Summary;
}

/** Severity classes of the histogram: unset, trace, debug, info, warn, error, fatal. */
export const severityClasses = 7;

/** What a search has found so far. Plain data; two of the same query can be merged. */
export interface SearchPartial {
  /** Found events, weights counted. */
  total: number;
  /** Found events as they are stored, one each. */
  stored: number;
  /** Events looked at. */
  scanned: number;
  /** `buckets × severityClasses` counts. */
  readonly histogram: Float64Array;
  /** Newest first, at most `limit`. */
  events: EventRecord[];
  readonly fields: FieldPartials;
  /** Events behind `fields`. */
  fieldTotal: number;
  readonly summary: SummaryPartial | undefined;
}

export function newSearchPartial(query: SearchQuery): SearchPartial {
  return {
    total: 0,
    stored: 0,
    scanned: 0,
    histogram: new Float64Array(query.buckets * severityClasses),
    events: [],
    fields: new Map(),
    fieldTotal: 0,
    summary: query.summary && newSummaryPartial(query.summary),
  };
}

/** The columns that a query has to read of a segment; `inside`: all its events lie in the query's window. */
export function wantedColumns(query: SearchQuery, inside: boolean): WantedColumns {
  if (query.limit > 0 || query.fields) {
    const body = query.limit > 0 || query.condition.body;
    return { attributes: 'all', body, emitter: true, delay: query.limit > 0, time: true, severity: true };
  }
  const fields = [...query.condition.attributes, ...(query.summary ? summaryFields(query.summary) : [])];
  const names = new Set(fields.map((field) => field.toLowerCase()));
  const builtIn = (name: string): boolean => names.has(name) || mentions(query.condition, name);
  const { summary } = query;
  const edges = summary?.aggregates.some(({ function: name }) => name === 'first' || name === 'last') ?? false;
  const times = builtIn('time') || builtIn('received') || edges || (summary?.every ?? 0) > 0;
  return {
    attributes: names,
    body: query.condition.body,
    emitter: builtIn('emitter'),
    delay: builtIn('received'),
    time: !inside || query.buckets > 0 || times,
    severity: query.buckets > 0 || builtIn('severity'),
  };
}

function mentions(condition: Condition, field: string): boolean {
  return condition.text.toLowerCase().includes(field);
}

/** Looks through one batch; `inside`: all its events lie in the query's window, and their times need not be looked at. */
export function searchBatch(
  partial: SearchPartial,
  query: SearchQuery,
  batch: EventBatch,
  context: ConditionContext & { readonly tier: string },
  inside = false,
): void {
  const mask = query.condition.test(batch, context);
  const rows = inside ? markedRows(mask) : within(mask, batch.time, query.window);
  partial.scanned += batch.rows;
  partial.stored += rows.length;
  let total = 0;
  for (let i = 0; i < rows.length; i++) total += batch.weight[rows[i] as number] as number;
  partial.total += total;
  if (rows.length === 0) return;
  if (query.buckets > 0) addToHistogram(partial.histogram, query, batch, rows);
  if (query.limit > 0) addEvents(partial, query, batch, rows);
  if (query.fields) {
    addToFields(partial.fields, batch, rows);
    partial.fieldTotal += total;
  }
  if (query.summary && partial.summary) addToSummary(partial.summary, query.summary, batch, rows, context.tier);
}

function within(mask: Uint8Array, time: Float64Array, { from, to }: TimeWindow): Int32Array {
  for (let row = 0; row < mask.length; row++) {
    if (mask[row] === 0) continue;
    const at = time[row] as number;
    if (at < from || at >= to) mask[row] = 0;
  }
  return markedRows(mask);
}

function addToHistogram(histogram: Float64Array, query: SearchQuery, batch: EventBatch, rows: Int32Array): void {
  const { from, to } = query.window;
  const width = (to - from) / query.buckets;
  const { time, severity, weight } = batch;
  for (let i = 0; i < rows.length; i++) {
    const row = rows[i] as number;
    const bucket = Math.min(query.buckets - 1, Math.floor(((time[row] as number) - from) / width));
    const place = bucket * severityClasses + (((severity[row] as number) + 3) >> 2);
    histogram[place] = (histogram[place] as number) + (weight[row] as number);
  }
}

/** Keeps the newest events. Only rows that are newer than the oldest kept one become objects. */
function addEvents(partial: SearchPartial, query: SearchQuery, batch: EventBatch, rows: Int32Array): void {
  const full = partial.events.length >= query.limit;
  const oldest = full ? (partial.events[partial.events.length - 1] as EventRecord).time : Number.NEGATIVE_INFINITY;
  const newer = rows.filter((row) => (batch.time[row] as number) > oldest);
  const newest = newer
    .sort((a, b) => (batch.time[b] as number) - (batch.time[a] as number) || b - a)
    .subarray(0, query.limit);
  const added = Array.from(newest, (row) => eventAt(batch, row));
  partial.events = newestFirst([...partial.events, ...added], query.limit);
}

function newestFirst(events: EventRecord[], limit: number): EventRecord[] {
  events.sort((a, b) => b.time - a.time);
  return events.slice(0, limit);
}

/** Adds all of `other`, found by the same query, to `partial`. */
export function mergeSearch(partial: SearchPartial, other: SearchPartial, query: SearchQuery): void {
  partial.total += other.total;
  partial.stored += other.stored;
  partial.scanned += other.scanned;
  other.histogram.forEach((count, i) => {
    partial.histogram[i] = (partial.histogram[i] as number) + count;
  });
  if (query.limit > 0) partial.events = newestFirst([...partial.events, ...other.events], query.limit);
  mergeFields(partial.fields, other.fields);
  partial.fieldTotal += other.fieldTotal;
  if (partial.summary && other.summary) mergeSummary(partial.summary, other.summary);
}
