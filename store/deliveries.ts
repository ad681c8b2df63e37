import { and, eq, inArray, lt, or } from 'drizzle-orm';
import type { Database, Queryable } from './database.ts';
import { intakeKeys } from './schema.ts';

/** A delivery that was committed under a key. */
export type CommittedDelivery = typeof intakeKeys.$inferSelect;

/** Of some keys those that were committed before. */
export async function findDeliveries(
  database: Database,
  wanted: readonly { readonly source: string; readonly key: string }[],
): Promise<readonly CommittedDelivery[]> {
  if (wanted.length === 0) return [];
  const sources = new Map<string, string[]>();
  for (const { source, key } of wanted) sources.set(source, [...(sources.get(source) ?? []), key]);
  return await database.db
    .select()
    .from(intakeKeys)
    .where(
      or(...[...sources].map(([source, keys]) => and(eq(intakeKeys.source, source), inArray(intakeKeys.key, keys)))),
    );
}

/** Remembers deliveries; call it inside the transaction that stores their events. A key that exists is an error. */
export async function addDeliveries(tx: Queryable, added: readonly CommittedDelivery[]): Promise<void> {
  if (added.length > 0) await tx.insert(intakeKeys).values([...added]);
}

/** Forgets keys of before `before` (milliseconds). */
export async function forgetDeliveries(database: Database, before: number): Promise<void> {
  await database.db.delete(intakeKeys).where(lt(intakeKeys.at, before));
}
