import { and, eq, gt, inArray, lt, ne, sql } from 'drizzle-orm';
import { type Database, later, type Queryable } from '../database.ts';
import type { LateAnswer } from '../turns.ts';
import { deltas, learnt } from './schema.ts';

/** What a committed group adds to what is known of senders, of one kind. */
export type Delta = typeof deltas.$inferSelect;

/** How long what was saved stays for the other engines to hear, in milliseconds. */
const savedStay = 60_000;

/** Notes what a group adds; call it inside the transaction that stores its events. Returns where its id will be. */
export async function addDelta(
  tx: Queryable,
  row: { readonly kind: string; readonly engine: string; readonly at: number; readonly data: Uint8Array },
): Promise<LateAnswer> {
  return await later(tx, tx.insert(deltas).values(row));
}

/** The ids of deltas of other engines; of everything that is not saved yet where `notSaved`. */
export async function listDeltas(tx: Queryable, engine: string, notSaved = false): Promise<readonly number[]> {
  const rows = await tx
    .select({ id: deltas.id })
    .from(deltas)
    .where(notSaved ? eq(deltas.savedAt, 0) : ne(deltas.engine, engine));
  return rows.map(({ id }) => id);
}

/** Some deltas, in the order of their ids. */
export async function readDeltas(tx: Queryable, ids: readonly number[]): Promise<readonly Delta[]> {
  if (ids.length === 0) return [];
  return await tx
    .select()
    .from(deltas)
    .where(inArray(deltas.id, [...ids]))
    .orderBy(deltas.id);
}

/** Marks as saved; call it inside the transaction that saves what was learnt. */
export async function markSaved(tx: Queryable, ids: readonly number[], now: number): Promise<void> {
  for (let i = 0; i < ids.length; i += 1_000)
    await tx
      .update(deltas)
      .set({ savedAt: now })
      .where(and(inArray(deltas.id, ids.slice(i, i + 1_000)), eq(deltas.savedAt, 0)));
}

/** Forgets what was saved and heard by all long ago. */
export async function cutDeltas(database: Database, now: number): Promise<void> {
  await database.db.delete(deltas).where(and(gt(deltas.savedAt, 0), lt(deltas.savedAt, now - savedStay)));
}

/** What was learnt of a kind; undefined for nothing. */
export async function readLearnt(tx: Queryable, kind: string): Promise<unknown> {
  const [row] = await tx.select().from(learnt).where(eq(learnt.kind, kind));
  return row?.facts;
}

/** Saves what was learnt of a kind. */
export async function saveLearnt(tx: Queryable, kind: string, facts: unknown): Promise<void> {
  await tx
    .insert(learnt)
    .values({ kind, facts })
    .onDuplicateKeyUpdate({ set: { facts: sql`values(${learnt.facts})` } });
}
