import { decode, encode } from '../events/text-table.ts';
import type { ColumnStatistics, MinuteCounts, SegmentStatistics } from './statistics.ts';

/** The number of the part that holds the header. */
export const headerNumber = 0;

/** What is at the head of a segment. */
export interface SegmentHeader {
  /** The number of each part by its name. */
  readonly parts: ReadonlyMap<string, number>;
  /** Absent in segments that were stored without them. */
  readonly statistics?: SegmentStatistics;
}

/** Numbers as the differences between neighbours, from 0 on. */
type Differences = readonly number[];

interface HeaderJson {
  readonly parts: Readonly<Record<string, number>>;
  readonly minutes?: {
    readonly minute: Differences;
    readonly severity: readonly number[];
    readonly events: readonly number[];
  };
  readonly columns?: Readonly<Record<string, ColumnStatistics>>;
}

/** A header as JSON: `parts`, and where there are statistics `minutes` and `columns`. */
export function encodeHeader({ parts, statistics }: SegmentHeader): Uint8Array {
  const json: HeaderJson = {
    parts: Object.fromEntries(parts),
    ...(statistics && {
      minutes: {
        minute: differences(statistics.minutes.minute),
        severity: [...statistics.minutes.severity],
        events: [...statistics.minutes.events],
      },
      columns: Object.fromEntries(statistics.columns),
    }),
  };
  return encode(JSON.stringify(json));
}

/** Reads what {@link encodeHeader} wrote, and headers of old that hold nothing but the numbers of parts. */
export function decodeHeader(header: Uint8Array): SegmentHeader {
  const json: unknown = JSON.parse(decode(header, 0, header.length));
  if (!isHeader(json)) return { parts: numbersIn(json) };
  const { minutes, columns } = json;
  return {
    parts: numbersIn(json.parts),
    ...(minutes && columns && { statistics: { minutes: readMinutes(minutes), columns: entriesOf(columns) } }),
  };
}

/** Only the engine writes headers: whoever has `parts` as an object has the rest as it was written. */
function isHeader(json: unknown): json is HeaderJson {
  return typeof json === 'object' && json !== null && 'parts' in json && typeof json.parts === 'object';
}

function numbersIn(json: unknown): ReadonlyMap<string, number> {
  const entries = typeof json === 'object' && json !== null ? Object.entries(json) : [];
  return new Map(entries.filter((entry): entry is [string, number] => typeof entry[1] === 'number'));
}

function entriesOf<Value>(record: Readonly<Record<string, Value>>): ReadonlyMap<string, Value> {
  return new Map(Object.entries(record));
}

function readMinutes({ minute, severity, events }: NonNullable<HeaderJson['minutes']>): MinuteCounts {
  const minutes = Int32Array.from(minute);
  for (let i = 1; i < minutes.length; i++) minutes[i] = (minutes[i] as number) + (minutes[i - 1] as number);
  return { minute: minutes, severity: Uint8Array.from(severity), events: Float64Array.from(events) };
}

function differences(numbers: Int32Array): Differences {
  return Array.from(numbers, (number, i) => number - (i === 0 ? 0 : (numbers[i - 1] as number)));
}
