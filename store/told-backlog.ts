import { lte, sql } from 'drizzle-orm';
import type { Queryable } from './database.ts';
import { toldMetrics, toldTalkers } from './schema.ts';

const tables = [toldMetrics, toldTalkers] as const;

/** The number of the last group that metrics and rankings have been told of and that may not be counted yet, for each; 0 for none. */
export async function lastTold(tx: Queryable): Promise<readonly number[]> {
  return await Promise.all(
    tables.map(async (table) => {
      const [row] = await tx.select({ last: sql<number | null>`max(${table.id})` }).from(table);
      return Number(row?.last ?? 0);
    }),
  );
}

/** Whether everything up to those groups is counted. */
export async function isCountedUpTo(tx: Queryable, last: readonly number[]): Promise<boolean> {
  const left = await Promise.all(
    tables.map(async (table, i) => {
      const some = tx.select({ id: table.id }).from(table);
      return (await some.where(lte(table.id, last[i] ?? 0)).limit(1)).length;
    }),
  );
  return left.every((count) => count === 0);
}
