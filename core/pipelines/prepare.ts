import { type EventBatch, withAttribute } from '../events/batch.ts';
import { textColumn } from '../events/columns.ts';
import type { Masks } from '../masks/mask.ts';
import { setTime } from '../steps/events/set-time.ts';
import { maskBatch } from '../steps/mask-batch.ts';
import { parseCsv } from '../steps/parse/parse-csv.ts';
import { noResources } from '../steps/step.ts';

/** What a delivery and its source say about events, whatever pipelines there are. */
export interface Preparation {
  /** The columns of separated values, from the first line of their file: `name`, or `name:type`. */
  readonly columns?: readonly string[] | undefined;
  /** What the source masks. */
  readonly masks?: Masks | undefined;
  /** Fields that all events get. */
  readonly labels?: Readonly<Record<string, string>> | undefined;
}

/** The events of a delivery as pipelines get them: columns are cut, then values masked, then labels added. */
export function prepareBatch(batch: EventBatch, { columns, masks, labels }: Preparation): EventBatch {
  const cut = columns ? withColumns(batch, columns) : batch;
  return withLabels(masks ? maskBatch(cut, masks) : cut, labels);
}

function withLabels(batch: EventBatch, labels: Preparation['labels']): EventBatch {
  return Object.entries(labels ?? {}).reduce((current, [name, value]) => {
    const text = textColumn([value]);
    return withAttribute(current, name, { text: { ...text, codes: new Int32Array(batch.rows) } });
  }, batch);
}

/** Cuts lines of separated values into the columns of their first line; a time among them becomes the event's time. */
function withColumns(batch: EventBatch, columns: readonly string[]): EventBatch {
  const rows = new Uint8Array(batch.rows).fill(1);
  const parsed = parseCsv.compile({ from: 'body', columns: [...columns] }, noResources)(batch, rows).batch;
  const time = columns
    .map((column) => column.split(':'))
    .find(([name = '', type]) => isTimeName(name) && type === 'iso');
  if (!time) return parsed;
  return setTime.compile({ from: time[0] as string }, noResources)(parsed, parsed.parsed).batch;
}

function isTimeName(name: string): boolean {
  return /^(time|timestamp|ts|at|date|datetime)$/i.test(name);
}
