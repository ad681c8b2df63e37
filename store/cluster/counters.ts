import { eq, sql } from 'drizzle-orm';
import { type Database, later, type Queryable } from '../database.ts';
import { counters } from './schema.ts';

/** Counts the changes that people make. */
export const changes = 'changes';
const draftVersion = 'draft';
/** Counts the decisions about shapes. */
export const shapesVersion = 'shapes';

/** Tells all engines that something changed; call it inside the transaction that changes it. */
export async function countChange(tx: Queryable): Promise<void> {
  await countUp(tx, changes);
}

/** A version for the draft that none of its drafts had before; call it inside the transaction that stores it. */
export async function nextDraftVersion(tx: Queryable): Promise<number> {
  return await countedUp(tx, draftVersion);
}

/**
 * A version for what is said about shapes, later than all before; call it inside the transaction that says it. Until that
 * has committed nobody else gets one, so that who has read up to a version has missed nothing.
 */
export async function nextShapesVersion(tx: Queryable): Promise<number> {
  return await countedUp(tx, shapesVersion);
}

async function countedUp(tx: Queryable, name: string): Promise<number> {
  await countUp(tx, name);
  const [row] = await tx.select().from(counters).where(eq(counters.name, name));
  return row?.value ?? 1;
}

async function countUp(tx: Queryable, name: string): Promise<void> {
  await later(
    tx,
    tx
      .insert(counters)
      .values({ name, value: 1 })
      .onDuplicateKeyUpdate({ set: { value: sql`${counters.value} + 1` } }),
  );
}

/** How many changes there were so far. */
export async function changeCount(database: Database): Promise<number> {
  const [row] = await database.db.select().from(counters).where(eq(counters.name, changes));
  return row?.value ?? 0;
}
