import type { EventBatch } from '../events/batch.ts';
import { encode } from '../events/text-table.ts';
import { readRecords } from '../formats/read.ts';
import { splitLines } from '../formats/records.ts';

/** When the events of tests arrive: 2026-11-24T09:00:00Z, in milliseconds. */
export const arrival = Date.UTC(2026, 10, 24, 9);

/** A batch from objects, each read as the JSON line it makes. */
export function batchOf(events: readonly object[], source = 'test'): EventBatch {
  return batchOfLines(
    events.map((event) => JSON.stringify(event)),
    source,
  );
}

/** A batch from lines as they arrive. */
export function batchOfLines(lines: readonly string[], source = 'test'): EventBatch {
  const { batch, problems } = readRecords(source, splitLines(encode(lines.join('\n'))), 'auto', {
    received: arrival,
    backfill: false,
  });
  if (problems[0]) throw new Error(problems[0].message);
  return batch;
}
