import { and, eq, getTableColumns, inArray, is } from 'drizzle-orm';
import { type MySqlColumn, MySqlTable } from 'drizzle-orm/mysql-core';
import type { Database } from './database.ts';
import * as schema from './schema.ts';

/** Rows deleted by one statement: longer ones would block writers. */
const rowsAtOnce = 20_000;
const segmentsAtOnce = 50;

/** Tables with rows of a source, except its settings and tokens, and shapes, which other sources may share. */
const tablesOfSources = Object.values(schema).flatMap((table) => {
  if (
    !is(table, MySqlTable) ||
    [schema.sources, schema.tokens, schema.shapes, schema.segments].includes(table as never)
  )
    return [];
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
