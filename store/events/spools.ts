import { asc, eq, inArray, sql } from 'drizzle-orm';
import { guardLease, type Lease } from '../cluster/leases.ts';
import type { Database, Queryable } from '../database.ts';
import { outgoing, spools } from './schema.ts';

/** A batch that waits for its follower. */
export type SpooledBatch = typeof outgoing.$inferSelect;
/** What waits for a follower, and what it lost. */
export type Spool = typeof spools.$inferSelect;

/** How much may wait for a follower, and what happens when more comes: the senders wait, or the oldest is let go. */
export interface SpoolBound {
  readonly bytes: number;
  /** In milliseconds. */
  readonly age: number;
  readonly overflow: 'push-back' | 'drop-oldest';
}

/** A spool is full, and its follower wants senders to wait rather than to lose anything. */
export class SpoolFull extends Error {
  override readonly name = 'SpoolFull';

  constructor(readonly follower: string) {
    super(`What leaves for ${follower} waits up to its bound; nothing more is taken until it has delivered.`);
  }
}

/** What is added to a spool. */
export type NewSpooledBatch = Pick<SpooledBatch, 'source' | 'events' | 'bytes' | 'data'>;

/** The spool of a follower, its bound, and when something is added to it (milliseconds). */
export interface SpoolOf {
  readonly follower: string;
  readonly bound: SpoolBound;
  readonly at: number;
}

/**
 * Adds batches to a follower's spool, inside the transaction that stores their events. Where they do not fit, throws
 * {@link SpoolFull} or lets go the oldest, as the bound says; what was let go is counted.
 */
export async function addToSpool(
  tx: Queryable,
  batches: readonly NewSpooledBatch[],
  { follower, bound, at }: SpoolOf,
): Promise<void> {
  await tx.execute(sql`
    insert ignore into ${spools} (follower, next, batches, events, bytes_stored, delivered_events, dropped_events, dropped_at)
    values (${follower}, 1, 0, 0, 0, 0, 0, 0)`);
  const [spool] = await tx.select().from(spools).where(eq(spools.follower, follower)).for('update');
  if (!spool) return;
  const stored = batches.reduce((sum, { data }) => sum + data.length, 0);
  const events = batches.reduce((sum, batch) => sum + batch.events, 0);
  const gone = await makeRoom(tx, spool, { wanted: stored, bound, at });
  await tx
    .insert(outgoing)
    .values(batches.map((batch, i) => ({ ...batch, follower, number: spool.next + i, stored: batch.data.length, at })));
  await tx
    .update(spools)
    .set({
      next: spool.next + batches.length,
      batches: spool.batches - gone.batches + batches.length,
      events: spool.events - gone.events + events,
      stored: spool.stored - gone.stored + stored,
      ...(gone.batches > 0 && { droppedEvents: spool.droppedEvents + gone.events, droppedAt: at }),
    })
    .where(eq(spools.follower, follower));
}

/** Oldest batches that are looked at together where room is to be made. */
const lookedAt = 200;

async function makeRoom(
  tx: Queryable,
  spool: Spool,
  { wanted, bound, at }: Pick<SpoolOf, 'bound' | 'at'> & { readonly wanted: number },
): Promise<{ readonly batches: number; readonly events: number; readonly stored: number }> {
  const gone = { batches: 0, events: 0, stored: 0 };
  const isOld = (batch: { readonly at: number }): boolean => batch.at < at - bound.age;
  for (;;) {
    const oldest = await tx
      .select({ number: outgoing.number, events: outgoing.events, stored: outgoing.stored, at: outgoing.at })
      .from(outgoing)
      .where(eq(outgoing.follower, spool.follower))
      .orderBy(asc(outgoing.number))
      .limit(lookedAt);
    const dropped: number[] = [];
    for (const batch of oldest) {
      if (spool.stored - gone.stored + wanted <= bound.bytes && !isOld(batch)) break;
      if (bound.overflow === 'push-back') throw new SpoolFull(spool.follower);
      dropped.push(batch.number);
      gone.batches++;
      gone.events += batch.events;
      gone.stored += batch.stored;
    }
    if (dropped.length > 0) await removeBatches(tx, spool.follower, dropped);
    if (dropped.length < lookedAt) return gone;
  }
}

/** The oldest batches of a follower, at most `most`. */
export async function oldestBatches(
  database: Database,
  follower: string,
  most: number,
): Promise<readonly SpooledBatch[]> {
  return await database.db
    .select()
    .from(outgoing)
    .where(eq(outgoing.follower, follower))
    .orderBy(asc(outgoing.number))
    .limit(most);
}

/**
 * Takes delivered batches out of their spool, in one transaction with `alongside`, which notes the delivery. Throws a
 * `LeaseLost` when another engine drains the spool meanwhile.
 */
export async function takeDelivered(
  database: Database,
  lease: Lease,
  batches: readonly SpooledBatch[],
  alongside?: (tx: Queryable) => Promise<void>,
): Promise<void> {
  const [first] = batches;
  if (!first) return;
  await database.db.transaction(async (tx) => {
    await guardLease(tx, lease);
    const [spool] = await tx.select().from(spools).where(eq(spools.follower, first.follower)).for('update');
    if (!spool) return;
    // What was dropped meanwhile is out of the counts already.
    const there = await tx
      .select({ number: outgoing.number, events: outgoing.events, stored: outgoing.stored })
      .from(outgoing)
      .where(
        sql`${outgoing.follower} = ${first.follower} and ${inArray(
          outgoing.number,
          batches.map(({ number }) => number),
        )}`,
      );
    await removeBatches(
      tx,
      first.follower,
      there.map(({ number }) => number),
    );
    await tx
      .update(spools)
      .set({
        batches: spool.batches - there.length,
        events: spool.events - there.reduce((sum, batch) => sum + batch.events, 0),
        stored: spool.stored - there.reduce((sum, batch) => sum + batch.stored, 0),
        deliveredEvents: spool.deliveredEvents + batches.reduce((sum, batch) => sum + batch.events, 0),
      })
      .where(eq(spools.follower, first.follower));
    await alongside?.(tx);
  });
}

/** What waits for each follower. */
export async function listSpools(database: Database): Promise<readonly Spool[]> {
  return await database.db.select().from(spools);
}

async function removeBatches(tx: Queryable, follower: string, numbers: readonly number[]): Promise<void> {
  if (numbers.length === 0) return;
  await tx
    .delete(outgoing)
    .where(sql`${outgoing.follower} = ${follower} and ${inArray(outgoing.number, [...numbers])}`);
}
