import type { EventBatch } from '../events/batch.ts';
import { labelsBatch } from '../events/labels-batch.ts';
import { severityOfClass } from '../events/severity.ts';
import { minute } from '../events/time-units.ts';
import type { MinuteCounts } from '../segments/statistics.ts';
import type { SearchQuery } from './search.ts';

const knownKeys: ReadonlySet<string> = new Set(['source', 'tier', 'severity']);

/** Whether all that a query counts follows from the minutes and severities of the events that it finds. */
export function isCountedByMinutes({ buckets, summary }: SearchQuery): boolean {
  if (buckets.count > 0 && buckets.width % minute !== 0) return false;
  if (!summary) return true;
  const counts = summary.aggregates.every(
    ({ function: name, field }) => field === undefined && (name === 'count' || name === 'rate'),
  );
  return counts && summary.every % minute === 0 && summary.by.every((key) => knownKeys.has(key.toLowerCase()));
}

const blank = labelsBatch('', {});

/** A batch with a row for each minute and class of severity in which a source had events, with their weight. */
export function batchOfMinutes(source: string, minutes: MinuteCounts): EventBatch {
  const rows = minutes.minute.length;
  const time = new Float64Array(rows);
  const severity = new Uint8Array(rows);
  const weight = new Float32Array(rows);
  for (let row = 0; row < rows; row++) {
    time[row] = (minutes.minute[row] as number) * minute;
    severity[row] = severityOfClass(minutes.severity[row] as number);
    weight[row] = minutes.events[row] as number;
  }
  return { ...blank, rows, source, time, received: time, severity, weight };
}
