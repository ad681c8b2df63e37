import type { EventBatch } from '#core/events/batch.ts';
import type { AttributeColumns } from '#core/events/columns.ts';
import { gather } from '#core/events/select.ts';

/** Sampled events of one source in a tier, of one of the compared periods. */
export interface SampledPart {
  readonly batch: EventBatch;
  readonly tier: string;
  /** 0: since the change; 1, 2, …: earlier periods. */
  readonly period: number;
  /** How many events each row represents, in addition to its weight. */
  readonly standsFor: number;
}

/** A text field is a unique id if it has at least this fraction of distinct values, in at least so many rows. */
const nearlyUnique = 0.5;
const fewRows = 200;

/** Some rows of a batch without fields of unique ids, except those that are `measured`, and the names of these in lower case. */
export function gatheredEvents(
  batch: EventBatch,
  rows: Int32Array,
  measured: ReadonlySet<string>,
): { readonly batch: EventBatch; readonly uniqueFields: readonly string[] } {
  const unique = [...batch.attributes]
    .filter(([name, columns]) => isUniqueId(columns, batch.rows) && !measured.has(name.toLowerCase()))
    .map(([name]) => name);
  const some = gather(batch.source, [{ batch: without(batch, unique), rows }]);
  return { batch: some, uniqueFields: unique.map((name) => name.toLowerCase()) };
}

/** Whether nearly every event has its own text. Such a field cannot be a cause, and it is large. */
function isUniqueId({ text }: AttributeColumns, rows: number): boolean {
  return rows >= fewRows && text !== undefined && (!text.unique || text.table.count >= nearlyUnique * rows);
}

function without(batch: EventBatch, names: readonly string[]): EventBatch {
  const attributes = new Map(batch.attributes);
  for (const name of names) attributes.delete(name);
  return { ...batch, attributes };
}
