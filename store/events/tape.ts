import { and, desc, eq, gte, inArray, lt } from 'drizzle-orm';
import type { NewTapeChunk } from '#core/consumers/tape.ts';
import { type Database, later, type Queryable } from '../database.ts';
import { tape } from './schema.ts';

export type TapeChunk = typeof tape.$inferSelect;

/** Adds chunks to the tape; call it inside the transaction that stores their events. */
export async function addToTape(tx: Queryable, chunks: readonly NewTapeChunk[]): Promise<void> {
  if (chunks.length > 0) await later(tx, tx.insert(tape).values([...chunks]));
}

/** The ids of the chunks of a stretch of time (milliseconds), newest first; of one source when given. */
export async function listTape(
  database: Database,
  window: { readonly from: number; readonly to: number },
  source?: string,
): Promise<readonly { readonly id: number; readonly source: string; readonly lines: number }[]> {
  return await database.db
    .select({ id: tape.id, source: tape.source, lines: tape.lines })
    .from(tape)
    .where(
      and(
        gte(tape.to, window.from),
        lt(tape.from, window.to),
        source === undefined ? undefined : eq(tape.source, source),
      ),
    )
    .orderBy(desc(tape.id));
}

/** Chunks in the order of their ids; those that have run off the tape are left out. */
export async function readTape(database: Database, ids: readonly number[]): Promise<readonly TapeChunk[]> {
  if (ids.length === 0) return [];
  const rows = await database.db
    .select()
    .from(tape)
    .where(inArray(tape.id, [...ids]));
  const known = new Map(rows.map((row) => [row.id, row]));
  return ids.flatMap((id) => known.get(id) ?? []);
}

/** Writes a chunk anew. */
export async function rewriteTape(database: Database, id: number, data: Uint8Array): Promise<void> {
  await database.db.update(tape).set({ data }).where(eq(tape.id, id));
}

/** Lets run off the tape what is older than `before`. */
export async function cutTape(database: Database, before: number): Promise<void> {
  await database.db.delete(tape).where(lt(tape.to, before));
}
