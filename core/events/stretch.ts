import type { EventBatch } from './batch.ts';
import type { AttributeColumns, TextColumn } from './columns.ts';

/** The rows of a batch from `from` up to `to`, over the same memory: nothing is copied. */
export function stretchOf(batch: EventBatch, from: number, to: number): EventBatch {
  if (from === 0 && to === batch.rows) return batch;
  const text = (column: TextColumn): TextColumn => ({ ...column, codes: column.codes.subarray(from, to) });
  const attributes = new Map<string, AttributeColumns>();
  for (const [name, { number, text: texts, flag }] of batch.attributes)
    attributes.set(name, {
      ...(number && { number: { ...number, values: number.values.subarray(from, to) } }),
      ...(texts && { text: text(texts) }),
      ...(flag && { flag: { values: flag.values.subarray(from, to) } }),
    });
  const { body, shape } = batch;
  const isThere = body.count > from;
  return {
    ...batch,
    rows: to - from,
    time: batch.time.subarray(from, to),
    received: batch.received.subarray(from, to),
    severity: batch.severity.subarray(from, to),
    weight: batch.weight.subarray(from, to),
    size: batch.size.subarray(from, to),
    parsed: batch.parsed.subarray(from, to),
    emitter: text(batch.emitter),
    body: {
      ...body,
      offsets: body.offsets.subarray(isThere ? from : 0, isThere ? Math.min(to, body.count) + 1 : 1),
      count: isThere ? Math.min(to, body.count) - from : 0,
    },
    ...(shape && { shape: text(shape) }),
    attributes,
  };
}
