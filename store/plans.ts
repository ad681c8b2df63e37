import { desc, eq } from 'drizzle-orm';
import type { Database } from './database.ts';
import { drafts, revisions } from './schema.ts';

export type Revision = typeof revisions.$inferSelect;
export type Draft = typeof drafts.$inferSelect;

/** The revision in force; undefined before the first. */
export async function latestRevision(database: Database): Promise<Revision | undefined> {
  const [row] = await database.db.select().from(revisions).orderBy(desc(revisions.number)).limit(1);
  return row;
}

/** The revision of that number. */
export async function findRevision(database: Database, number: number): Promise<Revision | undefined> {
  const [row] = await database.db.select().from(revisions).where(eq(revisions.number, number));
  return row;
}

/** All revisions without their plans, newest first. */
export async function listRevisions(database: Database): Promise<readonly Omit<Revision, 'plan'>[]> {
  return await database.db
    .select({
      number: revisions.number,
      note: revisions.note,
      publishedAt: revisions.publishedAt,
      predicted: revisions.predicted,
    })
    .from(revisions)
    .orderBy(desc(revisions.number))
    .limit(500);
}

/** Stores a plan as the next revision; fails with a duplicate key when another one got the number first. */
export async function addRevision(database: Database, revision: Revision): Promise<void> {
  await database.db.insert(revisions).values(revision);
}

/** The draft, where there is one. */
export async function readDraft(database: Database): Promise<Draft | undefined> {
  const [row] = await database.db.select().from(drafts).limit(1);
  return row;
}

/** Stores the draft in place of the one there may be. */
export async function saveDraft(database: Database, draft: Omit<Draft, 'id'>): Promise<void> {
  await database.db
    .insert(drafts)
    .values({ id: 1, ...draft })
    .onDuplicateKeyUpdate({ set: draft });
}

/** Throws the draft away. */
export async function removeDraft(database: Database): Promise<void> {
  await database.db.delete(drafts);
}
