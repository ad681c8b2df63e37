import type { EventBatch } from '../events/batch.ts';
import { NewestRows } from '../search/newest.ts';
import { inOrder } from '../search/order.ts';
import {
  addFound,
  type FetchedPartial,
  type FoundPartial,
  fetchRows,
  mergeFetched,
  mostForFields,
  mostNewest,
  newFetched,
  newFound,
  rowsFound,
  type SearchQuery,
} from '../search/search.ts';

interface SearchContext {
  readonly now: number;
  readonly tierOf?: (segment: number) => string;
  readonly fleets?: ReadonlyMap<string, readonly string[]>;
}

/** Searches batches that are in memory as a whole, all of tier `rest` unless it is said, as if each segment was opened. */
export function searchBatches(
  query: SearchQuery,
  stored: readonly EventBatch[],
  { now, tierOf = () => 'rest', fleets }: SearchContext,
): FoundPartial & FetchedPartial {
  const { extraction } = query;
  const batches = extraction ? stored.map((batch) => extraction.run(batch)) : stored;
  const found = newFound(query);
  const newest = new NewestRows(mostNewest(query));
  const lines = new NewestRows(query.limit);
  batches.forEach((batch, segment) => {
    const context = { now, tier: tierOf(segment), fleets: fleets?.get(batch.source) ?? [] };
    const rows = rowsFound(query, batch, context, { inside: false, holds: false });
    found.scanned += batch.rows;
    found.stored += rows.length;
    addFound(found, query, batch, rows, tierOf(segment));
    const timeOf = (row: number): number => inOrder(query.order, batch.time[row] as number);
    const sorted = rows.slice().sort((a, b) => timeOf(a) - timeOf(b) || a - b);
    const times = Float64Array.from(sorted, timeOf);
    newest.add({ segment, rows: sorted, times });
    lines.add({ segment, rows: sorted, times });
  });
  const fetched = newFetched();
  const linesOf = new Map(lines.newest().map(({ segment, rows }) => [segment, rows]));
  const fieldsOf = new Map(
    (query.fields ? newest.newest(mostForFields) : []).map((found) => [found.segment, found.rows]),
  );
  stored.forEach((batch, segment) => {
    const one = newFetched();
    const none = new Int32Array(0);
    const wanted = { lines: linesOf.get(segment) ?? none, fields: fieldsOf.get(segment) ?? none };
    fetchRows(one, batch, { tier: tierOf(segment), ...wanted }, extraction);
    mergeFetched(fetched, one, query.order);
  });
  return { ...found, ...fetched };
}
