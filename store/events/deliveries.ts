import { createHash } from 'node:crypto';
import { and, eq, inArray, lt, or } from 'drizzle-orm';
import type { Database, Queryable } from '../database.ts';
import { intakeKeys } from './schema.ts';

/** A delivery that was committed under a key. */
export type CommittedDelivery = typeof intakeKeys.$inferSelect;

/** A key as the store holds it: texts that the database takes for equal, such as `a` and `a` with a blank, stay apart. */
function hashed(key: string): string {
  return createHash('sha256').update(key).digest('hex');
}

/** Of some keys those that were committed before. */
export async function findDeliveries(
  database: Database,
  wanted: readonly { readonly source: string; readonly key: string }[],
): Promise<readonly CommittedDelivery[]> {
  if (wanted.length === 0) return [];
  const sources = new Map<string, Map<string, string>>();
  for (const { source, key } of wanted) {
    const keys = sources.get(source);
    if (keys) keys.set(hashed(key), key);
    else sources.set(source, new Map([[hashed(key), key]]));
  }
  const rows = await database.db
    .select()
    .from(intakeKeys)
    .where(
      or(
        ...[...sources].map(([source, keys]) =>
          and(eq(intakeKeys.source, source), inArray(intakeKeys.key, [...keys.keys()])),
        ),
      ),
    );
  return rows.map((row) => ({ ...row, key: sources.get(row.source)?.get(row.key) ?? '' }));
}

/** Name of the table of keys, for telling a repeated delivery from other repeated rows. */
export const deliveriesTable = 'intake_key';

/** Remembers deliveries; call it inside the transaction that stores their events. A key that exists is an error. */
export async function addDeliveries(tx: Queryable, added: readonly CommittedDelivery[]): Promise<void> {
  if (added.length > 0) await tx.insert(intakeKeys).values(added.map((row) => ({ ...row, key: hashed(row.key) })));
}

/** Forgets keys of before `before` (milliseconds). */
export async function forgetDeliveries(database: Database, before: number): Promise<void> {
  await database.db.delete(intakeKeys).where(lt(intakeKeys.at, before));
}
