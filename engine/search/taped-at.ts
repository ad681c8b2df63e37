import type { TapedRecord } from '#core/tape/taped.ts';
import type { Database } from '#store/database.ts';
import { listTape, readTape } from '#store/events/tape.ts';
import { recordsOfChunk } from '../workers/tape.ts';

/** Most chunks of the tape that are looked into, and most records of one moment that are given. */
const mostChunks = 20;
const mostRecords = 200;

/** The records of a source on the tape that arrived at a moment (milliseconds). */
export async function tapedAt(database: Database, source: string, received: number): Promise<readonly TapedRecord[]> {
  const listed = await listTape(database, { from: received, to: received + 1 }, source);
  const ids = listed.slice(0, mostChunks).map(({ id }) => id);
  const records: TapedRecord[] = [];
  for (const id of ids) {
    const [chunk] = await readTape(database, [id]);
    if (chunk) records.push(...recordsOfChunk(chunk).filter(([at]) => at === received));
    if (records.length >= mostRecords) break;
  }
  return records.slice(0, mostRecords);
}
