import { setTimeout as pause } from 'node:timers/promises';
import { revokeLease } from '#store/cluster/leases.ts';
import type { Database, Queryable } from '#store/database.ts';
import { deleteSource, forgetSource } from '#store/sources/sources.ts';
import { inTurn } from '../base/in-turn.ts';
import { leaseNames } from '../cluster/leases.ts';
import type { HealthRegistry } from '../health/registry.ts';
import type { SourceDirectory } from './source-directory.ts';

/** How long deliveries that are under way when a source is removed may take, in milliseconds. */
const settleTime = 1_500;

/**
 * Removes a source: nothing more is taken in of it, and its tokens, how far it was read and what was learnt of its rhythm
 * are gone. What is stored of it stays until its tiers let it go. `record` writes it down in the transaction that does it.
 */
export async function removeSource(
  setting: { readonly database: Database; readonly directory: SourceDirectory; readonly health: HealthRegistry },
  name: string,
  record: (tx: Queryable) => Promise<void>,
): Promise<void> {
  const { database, directory, health } = setting;
  await inTurn(() =>
    database.db.transaction(async (tx) => {
      await record(tx);
      await deleteSource(tx, name);
      await revokeLease(tx, leaseNames.reading(name));
    }),
  );
  await directory.refresh();
  // Deliveries that were let in before note how far they came, and who was heard.
  await pause(settleTime);
  health.forget(name);
  await forgetSource(database, name);
}
