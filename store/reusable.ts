import { sql } from 'drizzle-orm';
import type { Database } from './database.ts';

/** Bytes within the store's files that had something once and can be used again. */
export async function reusableBytes({ db }: Database): Promise<number> {
  const answer: unknown = await db.execute(sql`
    select coalesce(sum(data_free), 0) as bytes from information_schema.tables where table_schema = database()`);
  const rows: unknown = Array.isArray(answer) ? answer[0] : [];
  const row: unknown = Array.isArray(rows) ? rows[0] : undefined;
  return typeof row === 'object' && row !== null && 'bytes' in row ? Number(row.bytes) : 0;
}
