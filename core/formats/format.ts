import type { BatchBuilder } from '../events/batch-builder.ts';

/** A record that could not be read: its number in the request (from 1) and what was wrong, in a sentence. */
export interface RecordProblem {
  readonly record: number;
  readonly message: string;
}

/** What a reader knows about the records that it is given. */
export interface ReadContext {
  /** When they arrived, in milliseconds. */
  readonly received: number;
  /** Take each event's own time as its time of arrival; for bringing in history. */
  readonly backfill: boolean;
  /**
   * Names that are needed (attributes, and `time severity body emitter`); a reader may pass over the others without
   * looking at them closely. Absent: all.
   */
  readonly wanted?: ReadonlySet<string>;
}

/**
 * Reads one record, `bytes[start..end)`, into the builder's current row and commits it.
 * Returns undefined, or, when the bytes are no such record, a sentence; the row is then as it was.
 */
export type RecordReader = (
  bytes: Uint8Array,
  start: number,
  end: number,
  builder: BatchBuilder,
  context: ReadContext,
) => string | undefined;

/** A way in which records are written. */
export interface Format {
  readonly id: string;
  readonly title: string;
  /** Whether a record looks like this format, judged by its first bytes. */
  readonly fits: (bytes: Uint8Array, start: number, end: number) => boolean;
  /** A reader for a stream of records; readers may learn from the records they see. */
  readonly reader: () => RecordReader;
}
