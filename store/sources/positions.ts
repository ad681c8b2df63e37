import { createHash } from 'node:crypto';
import { and, desc, eq, inArray, lt, ne, sql } from 'drizzle-orm';
import type { FileProgress, ObjectProgress, ReadProgress } from '#core/consumers/progress.ts';
import { fitted } from '#core/events/fitted.ts';
import { type Database, later, type Queryable } from '../database.ts';
import { filePositions, pickedObjects } from './schema.ts';

/** How far a followed file has been read, as it is kept. */
export type FilePosition = FileProgress;
/** How far an object has been picked up, as it is kept. */
export type PickedObject = ObjectProgress;

/** Notes how far readers have come; call it inside the transaction that stores the events. */
export async function saveProgress(tx: Queryable, progress: readonly ReadProgress[]): Promise<void> {
  for (const { kind, ...row } of progress) {
    if (kind === 'file') await savePosition(tx, row as FilePosition);
    else await saveObject(tx, row as PickedObject);
  }
}

/** Notes how far a file has been read. */
export async function savePosition(tx: Queryable, position: FilePosition): Promise<void> {
  const { source, file, ...rest } = position;
  const set = { ...rest, path: position.path.slice(-500), note: fitted(position.note, 500) };
  await later(
    tx,
    tx
      .insert(filePositions)
      .values({ source, file, ...set })
      .onDuplicateKeyUpdate({ set }),
  );
}

/** Notes how far an object has been read, or why it could not be. */
export async function saveObject(tx: Queryable, object: PickedObject): Promise<void> {
  const { source, identity, ...rest } = object;
  const set = { ...rest, name: fitted(object.name, 500), problem: fitted(object.problem, 500) };
  await later(
    tx,
    tx
      .insert(pickedObjects)
      .values({ source, identity, ...set })
      .onDuplicateKeyUpdate({ set }),
  );
}

/** How far the files of a source have been read, the latest first. */
export async function listPositions(database: Database, source: string): Promise<readonly FilePosition[]> {
  return await database.db
    .select()
    .from(filePositions)
    .where(eq(filePositions.source, source))
    .orderBy(desc(filePositions.changedAt));
}

/** Forgets how far a file was read; without one, those of all files of the source. */
export async function forgetPositions(database: Queryable, source: string, file?: string): Promise<void> {
  await database
    .delete(filePositions)
    .where(and(eq(filePositions.source, source), file === undefined ? undefined : eq(filePositions.file, file)));
}

/** Forgets files whose position has not moved since a time (milliseconds). */
export async function cutPositions(database: Database, before: number): Promise<void> {
  await database.db.delete(filePositions).where(lt(filePositions.changedAt, before));
}

/** The identity under which faults of the list of objects itself are noted. */
export const listIdentity = 'list';

/** What tells an object apart: SHA-256 of its name and version, hexadecimal. */
export function objectIdentity(name: string, version: string): string {
  return createHash('sha256').update(`${name} ${version}`).digest('hex');
}

/** Identities that go into one question. */
const identitiesPerQuestion = 1_000;

/** What is known of some objects of a source, by their identities. */
export async function findObjects(
  database: Database,
  source: string,
  identities: readonly string[],
): Promise<ReadonlyMap<string, PickedObject>> {
  const known = new Map<string, PickedObject>();
  for (let i = 0; i < identities.length; i += identitiesPerQuestion) {
    const wanted = identities.slice(i, i + identitiesPerQuestion);
    const rows = await database.db
      .select()
      .from(pickedObjects)
      .where(and(eq(pickedObjects.source, source), inArray(pickedObjects.identity, wanted)));
    for (const row of rows) known.set(row.identity, row);
  }
  return known;
}

/** The objects of a source that were met last, at most 200, those that could not be read first. */
export async function latestObjects(database: Database, source: string): Promise<readonly PickedObject[]> {
  return await database.db
    .select()
    .from(pickedObjects)
    .where(eq(pickedObjects.source, source))
    .orderBy(sql`${pickedObjects.problem} = ''`, desc(pickedObjects.at))
    .limit(200);
}

/** Has objects of a source that could not be read tried again: one by its identity, or all of them. */
export async function tryObjectsAgain(tx: Queryable, source: string, identity?: string): Promise<boolean> {
  const [{ affectedRows }] = await tx
    .update(pickedObjects)
    .set({ done: false, attempts: 0, retryAt: null })
    .where(
      and(
        eq(pickedObjects.source, source),
        ne(pickedObjects.problem, ''),
        identity === undefined ? undefined : eq(pickedObjects.identity, identity),
      ),
    );
  return affectedRows > 0;
}

/** Forgets that objects of a source were picked up. */
export async function forgetObjects(database: Queryable, source: string): Promise<void> {
  await database.delete(pickedObjects).where(eq(pickedObjects.source, source));
}
