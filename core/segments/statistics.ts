import type { EventBatch } from '../events/batch.ts';
import { missingFlag, type TextColumn } from '../events/columns.ts';
import { severityClass, severityClasses } from '../events/severity.ts';
import { textAt } from '../events/text-table.ts';
import { minute } from '../events/time-units.ts';
import type { PartColumn } from './part.ts';

/** Events by minute and severity class, weights counted; entry by entry, by minute and then by class. */
export interface MinuteCounts {
  /** Minutes since 1970. */
  readonly minute: Int32Array;
  /** 0 unset, 1 trace … 6 fatal. */
  readonly severity: Uint8Array;
  readonly events: Float64Array;
}

/** What is known of a column without opening it. */
export interface ColumnStatistics {
  /** How many events have a value. */
  readonly rows: number;
  /**
   * The least and the greatest number, and whether all are safe integers. Absent for columns of other kinds, and if a number is
   * not finite.
   */
  readonly range?: { readonly low: number; readonly high: number; readonly whole?: true };
  /** All texts that occur (a few that do not may stand among them); absent where there are many. */
  readonly texts?: readonly string[];
}

/** What is known of a segment's events without opening it. */
export interface SegmentStatistics {
  readonly minutes: MinuteCounts;
  /** By the name of the column in the segment. */
  readonly columns: ReadonlyMap<string, ColumnStatistics>;
}

/** Most texts that are listed for a column. */
const mostTexts = 24;
/** Most characters of a text that is listed. */
const longestText = 120;

/** Gathers what is known of a batch that is sorted by time, and of its columns. */
export function statisticsOf(batch: EventBatch, columns: ReadonlyMap<string, PartColumn>): SegmentStatistics {
  return {
    minutes: minutesOf(batch),
    columns: new Map([...columns].map(([name, column]) => [name, columnStatistics(column, batch.rows)])),
  };
}

function minutesOf({ rows, time, severity, weight }: EventBatch): MinuteCounts {
  const minutes: number[] = [];
  const severities: number[] = [];
  const events: number[] = [];
  const sums = new Float64Array(severityClasses);
  let row = 0;
  while (row < rows) {
    const current = Math.floor((time[row] as number) / minute);
    const end = (current + 1) * minute;
    sums.fill(0);
    for (; row < rows && (time[row] as number) < end; row++) {
      const place = severityClass(severity[row] as number);
      sums[place] = (sums[place] as number) + (weight[row] as number);
    }
    for (let place = 0; place < severityClasses; place++) {
      if (sums[place] === 0) continue;
      minutes.push(current);
      severities.push(place);
      events.push(sums[place] as number);
    }
  }
  return {
    minute: Int32Array.from(minutes),
    severity: Uint8Array.from(severities),
    events: Float64Array.from(events),
  };
}

function columnStatistics(column: PartColumn, rows: number): ColumnStatistics {
  switch (column.kind) {
    case 'number':
      return numberStatistics(column.values);
    case 'text':
      return textStatistics(column);
    case 'flag':
      return { rows: countRows(rows, (row) => column.values[row] !== missingFlag) };
    case 'body': {
      const { offsets } = column.table;
      return { rows: countRows(rows, (row) => (offsets[row + 1] as number) > (offsets[row] as number)) };
    }
    default:
      return { rows };
  }
}

function countRows(rows: number, has: (row: number) => boolean): number {
  let count = 0;
  for (let row = 0; row < rows; row++) if (has(row)) count++;
  return count;
}

function numberStatistics(values: Float64Array): ColumnStatistics {
  let rows = 0;
  let low = Number.POSITIVE_INFINITY;
  let high = Number.NEGATIVE_INFINITY;
  let isWhole = true;
  for (let row = 0; row < values.length; row++) {
    const value = values[row] as number;
    if (value !== value) continue;
    rows++;
    isWhole &&= Number.isSafeInteger(value);
    if (value < low) low = value;
    if (value > high) high = value;
  }
  if (!Number.isFinite(low) || !Number.isFinite(high)) return { rows };
  return { rows, range: { low, high, ...(isWhole && { whole: true }) } };
}

function textStatistics({ codes, table, unique }: TextColumn): ColumnStatistics {
  const rows = countRows(codes.length, (row) => (codes[row] as number) >= 0);
  if (!unique || table.count > mostTexts) return { rows };
  const texts = Array.from({ length: table.count }, (_, code) => textAt(table, code));
  return { rows, ...(texts.every(isListed) && { texts }) };
}

/** What is no UTF-8 cannot be written as JSON and read again as it was. */
function isListed(text: string): boolean {
  return text.length <= longestText && !text.includes('\ufffd');
}
