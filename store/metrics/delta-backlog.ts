import { lte, sql } from 'drizzle-orm';
import type { Queryable } from '../database.ts';
import { metricDeltas, talkerDeltas } from './schema.ts';

const tables = [metricDeltas, talkerDeltas] as const;

/** The highest ids of groups queued for metrics and for rankings; 0 where none is queued. */
export async function lastDeltas(tx: Queryable): Promise<readonly number[]> {
  return await Promise.all(
    tables.map(async (table) => {
      const [row] = await tx.select({ last: sql<number | null>`max(${table.id})` }).from(table);
      return Number(row?.last ?? 0);
    }),
  );
}

/** Whether all groups up to these ids have been counted. */
export async function isCountedUpTo(tx: Queryable, last: readonly number[]): Promise<boolean> {
  const left = await Promise.all(
    tables.map(async (table, i) => {
      const some = tx.select({ id: table.id }).from(table);
      return (await some.where(lte(table.id, last[i] ?? 0)).limit(1)).length;
    }),
  );
  return left.every((count) => count === 0);
}
