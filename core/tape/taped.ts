import { type EventBatch, eventAt } from '../events/batch.ts';
import { severityWord } from '../events/severity.ts';
import type { FormatChoice } from '../formats/index.ts';
import { readRecords } from '../formats/read.ts';
import { joinMessages } from '../formats/records.ts';

/**
 * A raw record as it is on the tape: when it arrived (ms), for how many arrivals it stands, its format, its text; and the
 * bytes that it arrived with where the text is not what arrived.
 */
export type TapedRecord = readonly [received: number, weight: number, format: FormatChoice, raw: string, size?: number];

/** The records of an unpacked chunk: a JSON array on each line. Lines that are none are left out. */
export function tapedRecords(text: string): readonly TapedRecord[] {
  const values: unknown = JSON.parse(`[${text.replaceAll('\n', ',')}]`);
  return Array.isArray(values) ? values.filter(isTapedRecord) : [];
}

// The tape is read by the hundred thousand records and was written by the engine: a look at the types is enough.
function isTapedRecord(value: unknown): value is TapedRecord {
  if (!Array.isArray(value)) return false;
  const [received, weight, format, raw, size] = value;
  return (
    typeof received === 'number' &&
    typeof weight === 'number' &&
    typeof format === 'string' &&
    typeof raw === 'string' &&
    (size === undefined || typeof size === 'number')
  );
}

/**
 * The records read as events again, as they were before any pipeline, with their weights; where only a part of the tape is
 * read, each stands for `standsFor` taped ones.
 */
export function tapedBatch(source: string, records: readonly TapedRecord[], standsFor = 1): EventBatch {
  const encoder = new TextEncoder();
  const joined = joinMessages(records.map(([, , , raw]) => encoder.encode(raw)));
  const format = records[0]?.[2] ?? 'auto';
  const { batch, records: rows } = readRecords(source, joined, format, {
    received: records[0]?.[0] ?? 0,
    backfill: false,
  });
  const received = batch.received.map((_, row) => records[rows[row] as number]?.[0] ?? 0);
  const weight = batch.weight.map((_, row) => (records[rows[row] as number]?.[1] ?? 1) * standsFor);
  // A time of its own that equals the arrival it was read with was none: it is the arrival.
  const time = batch.time.map((at, row) => (at === batch.received[row] ? (received[row] as number) : at));
  const size = batch.size.map((bytes, row) => records[rows[row] as number]?.[4] ?? bytes);
  return { ...batch, received, weight, time, size };
}

/**
 * An event whose raw record says something else, or what must not be kept, as it goes on the tape: the format, the text that
 * reads as the same event, and the bytes that it arrived with.
 */
export function tapedEvent(batch: EventBatch, row: number): readonly [format: FormatChoice, raw: string, size: number] {
  const { time, severity, body, emitter, attributes } = eventAt(batch, row);
  const size = batch.size[row] as number;
  // A line that gave no fields reads as itself.
  if (batch.parsed[row] === 0 && Object.keys(attributes).length === 0) return ['text', body, size];
  const word = severity > 0 ? { severity: severityWord(severity) } : {};
  const line = { time: new Date(time).toISOString(), ...word, body, ...(emitter && { host: emitter }), ...attributes };
  return ['json', JSON.stringify(line), size];
}
