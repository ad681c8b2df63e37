import { type EventBatch, failureAttribute } from '../events/batch.ts';
import { BatchBuilder } from '../events/batch-builder.ts';
import type { Format, ReadContext, RecordProblem, RecordReader } from './format.ts';
import { type FormatChoice, formats } from './index.ts';
import { maxRecordBytes, type Records } from './records.ts';

/** The events read from some records, and the records that could not be read. */
export interface ReadResult {
  readonly batch: EventBatch;
  /** For each row of the batch the index of its record. */
  readonly records: Uint32Array;
  /** The records that were not taken; at most {@link maxProblems} are described. */
  readonly problems: readonly RecordProblem[];
  readonly rejected: number;
  /** The same records as events, to be kept as rejects: what was sent as the body, and why it could not be read. */
  readonly unreadable: EventBatch | undefined;
  /** Values left out because the batch had too many attribute names. */
  readonly attributesLeftOut: number;
  /** Events whose own time is absurdly far from their arrival, which was used instead. */
  readonly timesNotBelieved: number;
}

/** How many rejected records of one request are described; all are counted. */
export const maxProblems = 20;

/** Readers keep what they learnt of a source's lines, so one is kept per source and format. */
export type ReaderCache = Map<Format, RecordReader>;

/** Reads records into one batch of events. Never throws on bad records: they are listed and the others kept. */
export function readRecords(
  source: string,
  records: Records,
  choice: FormatChoice,
  context: ReadContext,
  readers: ReaderCache = new Map(),
): ReadResult {
  const builder = new BatchBuilder(source, Math.max(16, records.count));
  const rows = new Uint32Array(records.count);
  const problems: RecordProblem[] = [];
  let rejected = 0;
  let unreadable: BatchBuilder | undefined;
  const fixed = choice === 'auto' ? undefined : formats.find((format) => format.id === choice);
  for (let i = 0; i < records.count; i++) {
    const start = records.starts[i] as number;
    const end = records.ends[i] as number;
    const format = fixed ?? detect(records.bytes, start, end);
    let message: string | undefined;
    if (end - start > maxRecordBytes) message = `longer than ${maxRecordBytes / 1024} KiB: ${end - start} bytes`;
    else {
      let reader = readers.get(format);
      if (!reader) readers.set(format, (reader = format.reader()));
      rows[builder.row] = i;
      message = reader(records.bytes, start, end, builder, context);
    }
    if (message === undefined) continue;
    rejected++;
    unreadable ??= new BatchBuilder(source, 16);
    keepUnreadable(unreadable, { bytes: records.bytes, start, end, message, received: context.received });
    if (problems.length < maxProblems) problems.push({ record: records.lines?.[i] ?? i + 1, message });
  }
  return {
    batch: builder.batch(),
    records: rows.subarray(0, builder.row),
    problems,
    rejected,
    unreadable: unreadable?.batch(),
    attributesLeftOut: builder.attributesLeftOut,
    timesNotBelieved: builder.timesNotBelieved,
  };
}

/** The rule under which records are rejected that could not be read. */
export const readingRule = 'reading';

/** A record from `start` to before `end` in the bytes, and what is wrong with it. */
interface UnreadableRecord {
  readonly bytes: Uint8Array;
  readonly start: number;
  readonly end: number;
  readonly message: string;
  /** When it came, in milliseconds. */
  readonly received: number;
}

/** What differs from record to record is left out of the reason, so that those with the same fault stand together. */
function keepUnreadable(builder: BatchBuilder, { bytes, start, end, message, received }: UnreadableRecord): void {
  const reason = message.replace(/ at byte \d+/, '').replace(/: \d+ bytes$/, '');
  builder.setBody(bytes, start, Math.min(end, start + maxRecordBytes));
  builder.attribute(failureAttribute)?.setString(builder.row, `${readingRule}: ${reason}`);
  builder.commit(received, end - start, false);
}

/** The first format that a record looks like. */
export function detect(bytes: Uint8Array, start: number, end: number): Format {
  for (const format of formats) if (format.fits(bytes, start, end)) return format;
  return formats[formats.length - 1] as Format;
}
