import { and, eq } from 'drizzle-orm';
import type { Database, Queryable } from './database.ts';
import { filePositions, pickedObjects } from './schema.ts';

export type FilePosition = typeof filePositions.$inferSelect;
export type PickedObject = typeof pickedObjects.$inferSelect;

/** How far a delivery takes its reader: in a followed file, or among picked-up objects. */
export type ReadProgress =
  | ({
      readonly kind: 'file' /** The identity it was known under before. */;
      readonly replaces?: string;
    } & FilePosition)
  | ({ readonly kind: 'object' } & PickedObject);

/** Notes how far readers have come; call it inside the transaction that stores the events. */
export async function saveProgress(tx: Queryable, progress: readonly ReadProgress[]): Promise<void> {
  for (const each of progress) {
    if (each.kind === 'file') {
      const { source, identity, path, offset, changedAt, replaces } = each;
      const row = { source, identity, path, offset, changedAt };
      await tx.insert(filePositions).values(row).onDuplicateKeyUpdate({ set: { path, offset, changedAt } });
      if (replaces === undefined) continue;
      await tx.delete(filePositions).where(and(eq(filePositions.source, source), eq(filePositions.identity, replaces)));
    } else {
      const { source, identity, records, done, problem, at } = each;
      const row = { source, identity, records, done, problem, at };
      await tx.insert(pickedObjects).values(row).onDuplicateKeyUpdate({ set: { records, done, problem, at } });
    }
  }
}

/** How far the files of a source have been read. */
export async function listPositions(database: Database, source: string): Promise<readonly FilePosition[]> {
  return await database.db.select().from(filePositions).where(eq(filePositions.source, source));
}

/** Forgets how far a file was read; without an identity, those of all files of the source. */
export async function forgetPositions(database: Database, source: string, identity?: string): Promise<void> {
  await database.db
    .delete(filePositions)
    .where(
      and(eq(filePositions.source, source), identity === undefined ? undefined : eq(filePositions.identity, identity)),
    );
}

/** The objects of a source that were met. */
export async function listObjects(database: Database, source: string): Promise<readonly PickedObject[]> {
  return await database.db.select().from(pickedObjects).where(eq(pickedObjects.source, source));
}

/** Forgets that objects of a source were picked up. */
export async function forgetObjects(database: Database, source: string): Promise<void> {
  await database.db.delete(pickedObjects).where(eq(pickedObjects.source, source));
}
