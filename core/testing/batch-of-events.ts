import type { EventBatch, EventRecord } from '../events/batch.ts';
import { AttributeBuilder } from '../events/batch-builder.ts';
import { textColumn } from '../events/columns.ts';
import { encode, TextTableBuilder } from '../events/text-table.ts';

/** A batch of one source with events as they are given, in their order. */
export function batchOfEvents(events: readonly EventRecord[]): EventBatch {
  const rows = events.length;
  const numbers = (of: (event: EventRecord) => number): Float64Array => Float64Array.from(events, of);
  const body = new TextTableBuilder();
  const attributes = new Map<string, AttributeBuilder>();
  events.forEach((event, row) => {
    const bytes = encode(event.body);
    body.append(bytes, 0, bytes.length);
    for (const [name, value] of Object.entries(event.attributes)) {
      const builder = attributes.get(name) ?? new AttributeBuilder(rows);
      attributes.set(name, builder);
      if (typeof value === 'number') builder.setNumber(row, value);
      else if (typeof value === 'boolean') builder.setFlag(row, value);
      else builder.setString(row, value);
    }
  });
  return {
    rows,
    source: events[0]?.source ?? 'test',
    time: numbers(({ time }) => time),
    received: numbers(({ received }) => received),
    severity: Uint8Array.from(events, ({ severity }) => severity),
    weight: Float32Array.from(events, ({ weight }) => weight),
    size: Uint32Array.from(events, ({ size }) => size),
    parsed: new Uint8Array(rows).fill(1),
    emitter: textColumn(events.map(({ emitter }) => emitter || undefined)),
    body: body.table(),
    attributes: new Map([...attributes].map(([name, builder]) => [name, builder.columns(rows)])),
  };
}
