import { and, eq, getTableColumns, inArray, is } from 'drizzle-orm';
import { type MySqlColumn, MySqlTable } from 'drizzle-orm/mysql-core';
import type { Database } from './database.ts';
import * as schema from './schema.ts';

/** Rows deleted by one statement: longer ones would block writers. */
const rowsAtOnce = 20_000;
const segmentsAtOnce = 50;

/** Settings and tokens are deleted with the source, segments with their parts; shapes may be shared with other sources. */
const leftOut: ReadonlySet<unknown> = new Set([schema.sources, schema.tokens, schema.shapes, schema.segments]);

/** All other tables with a column for the source. */
const tablesOfSources = Object.values(schema).flatMap((table) => {
  if (!is(table, MySqlTable) || leftOut.has(table)) return [];
  const columns: Readonly<Record<string, MySqlColumn>> = getTableColumns(table);
  return columns.source ? [{ table, source: columns.source }] : [];
});

/** Deletes everything stored of a source: events, volume, and what was learnt of it. */
export async function forgetStored({ db }: Database, name: string): Promise<void> {
  for (;;) {
    const some = await db
      .select({ id: schema.segments.id })
      .from(schema.segments)
      .where(eq(schema.segments.source, name))
      .limit(segmentsAtOnce);
    if (some.length === 0) break;
    const ids = some.map(({ id }) => id);
    await db.transaction(async (tx) => {
      await tx.delete(schema.segmentParts).where(inArray(schema.segmentParts.segment, ids));
      await tx.delete(schema.segments).where(and(inArray(schema.segments.id, ids), eq(schema.segments.source, name)));
    });
  }
  for (const { table, source } of tablesOfSources)
    for (let removed = rowsAtOnce; removed >= rowsAtOnce; ) {
      const [{ affectedRows }] = await db.delete(table).where(eq(source, name)).limit(rowsAtOnce);
      removed = affectedRows;
    }
}
