import { inflateRawSync } from 'node:zlib';
import type { EventBatch } from '#core/events/batch.ts';
import { dependsOnNeighbours } from '#core/pipelines/depends-on-neighbours.ts';
import type { CompiledPlan } from '#core/plan/compile.ts';
import { entryOf } from '#core/tables/entry-of.ts';
import { type TapedRecord, tapedBatch, tapedRecords } from '#core/tape/taped.ts';
import type { TapeChunk } from '#store/events/tape.ts';

/** A part of the tape, and what is needed to run plans and conditions over it. */
export interface TapePartTask {
  readonly chunks: readonly number[];
  /** For how many taped records each of these stands. */
  readonly standsFor: number;
  /** When each table that steps look values up in was last changed (milliseconds). */
  readonly tables: Readonly<Record<string, number>>;
  /** The fleets that each source belongs to. */
  readonly fleets: ReadonlyMap<string, readonly string[]>;
  readonly now: number;
}

/** The records of a stored chunk. */
export function recordsOfChunk(chunk: Pick<TapeChunk, 'data'>): readonly TapedRecord[] {
  return tapedRecords(inflateRawSync(chunk.data).toString('utf8'));
}

/** The most records and characters of a batch. */
const recordsPerBatch = 4_000;
const charactersPerBatch = 8_000_000;

/** Records of one source and format that wait to become a batch. */
interface OpenBatch {
  readonly source: string;
  records: TapedRecord[];
  characters: number;
}

/**
 * The events of chunks. Chunks of live traffic hold a few records, and running a plan over a batch costs as much as some hundred
 * records, so chunks of the same source and format are put together; unless one of the plans depends on which events arrived
 * together. Each record stands for `standsFor` taped ones.
 */
export function* tapedBatches(
  chunks: readonly Pick<TapeChunk, 'source' | 'data'>[],
  plans: readonly Pick<CompiledPlan, 'pipelines'>[],
  standsFor = 1,
): Generator<EventBatch> {
  const isApart = plans.some(({ pipelines }) => dependsOnNeighbours(pipelines));
  const open = new Map<string, OpenBatch>();
  for (const { source, data } of chunks) {
    const records = recordsOfChunk({ data });
    const characters = records.reduce((sum, [, , , raw]) => sum + raw.length, 0);
    const batch = entryOf(open, `${records[0]?.[2] ?? ''} ${source}`, () => ({ source, records: [], characters: 0 }));
    const isFull =
      batch.records.length + records.length > recordsPerBatch || batch.characters + characters > charactersPerBatch;
    if (batch.records.length > 0 && (isApart || isFull)) {
      yield tapedBatch(source, batch.records, standsFor);
      batch.records = [];
      batch.characters = 0;
    }
    batch.records = batch.records.concat(records);
    batch.characters += characters;
  }
  for (const { source, records } of open.values()) if (records.length > 0) yield tapedBatch(source, records, standsFor);
}
