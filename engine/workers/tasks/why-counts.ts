import { type Condition, conditionOf } from '#core/conditions/condition.ts';
import type { ConditionContext } from '#core/conditions/evaluate.ts';
import type { EventBatch } from '#core/events/batch.ts';
import { columnsToFind, rowsFound, type SearchQuery } from '#core/search/search.ts';
import { allColumns, type WantedColumns } from '#core/segments/segment.ts';
import { type CountedSums, newCountedSums } from '#core/why/counted-causes.ts';
import type { EventPrices } from '#core/why/event-prices.ts';
import { type Measure, type MeasureContext, measureOf } from '#core/why/measure.ts';
import { retryRead } from '#store/retry-read.ts';
import { type QueryText, queryOf } from '../query.ts';
import type { SegmentCache, SegmentRef } from '../segment-cache.ts';
import { currentShape } from '../shapes.ts';

/** A segment to be counted for one of the compared periods. */
export interface CountedRef extends SegmentRef {
  /** 0: since the change; 1, 2, …: earlier periods. `from` and `to` in milliseconds. */
  readonly period: number;
  readonly from: number;
  readonly to: number;
}

/** Counts the events of causes in some segments. */
export interface WhyCountsTask {
  readonly kind: 'whyCounts';
  readonly query: QueryText;
  readonly measure: string;
  /** The conditions of the causes. An event belongs to the first that it matches. */
  readonly causes: readonly string[];
  readonly segments: readonly CountedRef[];
  /** How many earlier periods there are. */
  readonly before: number;
  /** The fleets that each source belongs to. */
  readonly fleets: ReadonlyMap<string, readonly string[]>;
  readonly now: number;
  /** For costs. */
  readonly prices?: EventPrices | undefined;
}

/** Counts the events of each cause by period; undefined if a segment is gone. */
export async function whyCounts(cache: SegmentCache, task: WhyCountsTask): Promise<CountedSums | undefined> {
  const query = queryOf(task.query);
  const causes = task.causes.map(conditionOf);
  const measure = measureOf(task.measure);
  const sums = newCountedSums(causes.length, task.before, measure.width);
  const wanted = columnsToCount(query, causes, measure);
  const batches = await retryRead(() => cache.batches(task.segments, () => wanted));
  for (const [index, batch] of batches.entries()) {
    const segment = task.segments[index] as CountedRef;
    if (!batch) return undefined;
    const fleets = task.fleets.get(batch.source);
    const { tier } = segment;
    const context = { tier, now: task.now, currentShape, prices: task.prices, ...(fleets && { fleets }) };
    const within = { ...query, window: { from: segment.from, to: segment.to } };
    const rows = rowsFound(within, batch, context, { inside: false, holds: false });
    if (rows.length > 0)
      addCounts(sums, segment.period, { batch, rows, measure, context, groupOf: groupsOf(batch, causes, context) });
  }
  return sums;
}

function columnsToCount(query: SearchQuery, causes: readonly Condition[], measure: Measure): WantedColumns {
  const conditions = [query.condition, ...causes, ...(measure.shareOf ? [measure.shareOf] : [])];
  const known = { inside: false, holds: false, counted: false, newest: false };
  const all = conditions.map((condition) => columnsToFind({ ...query, condition, summary: measure.summary }, known));
  const isRead = (name: 'body' | 'emitter' | 'shape' | 'received' | 'size' | 'severity'): boolean =>
    all.some((columns) => columns[name]);
  return {
    ...allColumns,
    attributes: new Set(all.flatMap(({ attributes }) => (attributes === 'all' ? [] : [...attributes]))),
    ...{ body: isRead('body'), emitter: isRead('emitter'), shape: isRead('shape'), received: isRead('received') },
    ...{ size: isRead('size') || measure.isCost === true, severity: isRead('severity') },
  };
}

/** For each row the number of the first cause that it matches; that after the last for none. */
function groupsOf(batch: EventBatch, causes: readonly Condition[], context: ConditionContext): Uint8Array {
  const groups = new Uint8Array(batch.rows).fill(causes.length);
  for (let number = causes.length - 1; number >= 0; number--) {
    const mask = (causes[number] as Condition).test(batch, context);
    for (let row = 0; row < mask.length; row++) if (mask[row] === 1) groups[row] = number;
  }
  return groups;
}

function addCounts(
  sums: CountedSums,
  period: number,
  found: {
    readonly batch: EventBatch;
    readonly rows: Int32Array;
    readonly measure: Measure;
    readonly context: MeasureContext;
    readonly groupOf: Uint8Array;
  },
): void {
  const { batch, rows, groupOf } = found;
  const into = sums.amounts.map((periods) => periods[period] as Float64Array);
  for (const { to, values } of found.measure.amountsOf(batch, found.context)) {
    for (let i = 0; i < rows.length; i++) {
      const row = rows[i] as number;
      const amounts = into[groupOf[row] as number] as Float64Array;
      const at = typeof to === 'number' ? to : (to[row] as number);
      amounts[at] = (amounts[at] as number) + (values[row] as number);
    }
  }
}
