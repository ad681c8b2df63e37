import { type AttributeColumns, type AttributeValue, type TextColumn, valueAt } from './columns.ts';
import { type TextTable, textAt } from './text-table.ts';

/**
 * Some events of one source, column by column. Every column has `rows` entries.
 *
 * - `time`, `received`: milliseconds since 1970-01-01 UTC
 * - `severity`: 0 unknown, 1–24
 * - `weight`: how many arrived events one row stands for
 * - `size`: bytes of the record as it arrived, 0 where that is not known
 * - `parsed`: 1 when the line became fields, 0 when it did not
 * - `emitter`: the host or device that wrote the event
 * - `body`: text `i` of the table belongs to row `i`; empty when dropped
 * - `shape`: the id of the kind of line that each event is, where that was looked at
 * - `attributes`: by name, dots for nesting
 */
export interface EventBatch {
  readonly rows: number;
  readonly source: string;
  readonly time: Float64Array;
  readonly received: Float64Array;
  readonly severity: Uint8Array;
  readonly weight: Float32Array;
  /** Set where it is known that every row stands for one event. */
  readonly unweighted?: boolean;
  readonly size: Uint32Array;
  readonly parsed: Uint8Array;
  readonly emitter: TextColumn;
  readonly body: TextTable;
  readonly shape?: TextColumn;
  readonly attributes: ReadonlyMap<string, AttributeColumns>;
}

/** One event as a plain object, for screens and the API. Times in milliseconds. */
export interface EventRecord {
  readonly time: number;
  readonly received: number;
  readonly severity: number;
  readonly weight: number;
  /** Bytes of the record as it arrived; 0 where that is not known. */
  readonly size: number;
  readonly source: string;
  readonly emitter: string;
  readonly body: string;
  /** The id of the kind of line that it is; empty where that is not known. */
  readonly shape?: string;
  readonly attributes: Readonly<Record<string, AttributeValue>>;
}

/** The attribute in which a step that failed leaves its reason. */
export const failureAttribute = 'parse.failed';

/** The attribute with the tier whose cap an event was past. */
export const overflowAttribute = 'overflow.of';

/** One row as a plain object. Not for hot loops. */
export function eventAt(batch: EventBatch, row: number): EventRecord {
  const attributes: Record<string, AttributeValue> = {};
  for (const [name, columns] of batch.attributes) {
    const value = valueAt(columns, row);
    if (value !== undefined) attributes[name] = value;
  }
  const emitter = batch.emitter.codes[row] ?? -1;
  const shape = batch.shape?.codes[row] ?? -1;
  return {
    time: batch.time[row] ?? 0,
    received: batch.received[row] ?? 0,
    severity: batch.severity[row] ?? 0,
    weight: batch.weight[row] ?? 1,
    size: batch.size[row] ?? 0,
    source: batch.source,
    emitter: emitter < 0 ? '' : textAt(batch.emitter.table, emitter),
    body: batch.body.count > row ? textAt(batch.body, row) : '',
    ...(batch.shape && shape >= 0 && { shape: textAt(batch.shape.table, shape) }),
    attributes,
  };
}

/** The batch with one attribute set, replaced, or (with undefined) taken out. */
export function withAttribute(batch: EventBatch, name: string, columns: AttributeColumns | undefined): EventBatch {
  const attributes = new Map(batch.attributes);
  if (columns) attributes.set(name, columns);
  else attributes.delete(name);
  return { ...batch, attributes };
}
