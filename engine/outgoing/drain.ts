import type { Lease } from '#store/cluster/leases.ts';
import type { Database } from '#store/database.ts';
import { oldestBatches, takeDelivered } from '#store/events/spools.ts';
import type { Follower } from './follower.ts';

/** Batches that are handed on together. */
const batchesAtOnce = 20;

/**
 * Hands on what waits for a follower, in order, until nothing does. Throws what kept it from being handed on, or a
 * `LeaseLost` when another engine has taken over; what was handed on and not taken out comes again.
 */
export async function drain(database: Database, lease: Lease, follower: Follower): Promise<number> {
  let events = 0;
  for (;;) {
    const batches = await oldestBatches(database, follower.name, batchesAtOnce);
    if (batches.length === 0) return events;
    await follower.deliver(batches);
    await takeDelivered(database, lease, batches, (tx) => follower.delivered?.(tx, batches) ?? Promise.resolve());
    events += batches.reduce((sum, batch) => sum + batch.events, 0);
  }
}
