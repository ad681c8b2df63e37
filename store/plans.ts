import { and, desc, eq, gt, lte, notInArray } from 'drizzle-orm';
import type { Database, Queryable } from './database.ts';
import { fitted } from './fitted.ts';
import { discardedDrafts, drafts, revisions } from './schema.ts';

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

/** Stores a plan as the next revision; fails with a repeated key when another one got the number first. */
export async function addRevision(tx: Queryable, revision: Revision): Promise<void> {
  await tx.insert(revisions).values({ ...revision, note: fitted(revision.note, 1000) });
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

/** Takes the draft out: it is published, or as the live plan is. */
export async function removeDraft(tx: Queryable): Promise<void> {
  await tx.delete(drafts);
}

/** A draft that was thrown away and can be taken up again. */
export type DiscardedDraft = typeof discardedDrafts.$inferSelect;

/** How many discarded drafts are kept, and for how long (milliseconds). */
const mostDiscarded = 5;
const discardedStay = 86_400_000;

/** Throws the draft away; it can be taken up again for a day, until five others were thrown away. False where there is none. */
export async function discardDraft(database: Database, now: number): Promise<boolean> {
  return await database.db.transaction(async (tx) => {
    const [draft] = await tx.select().from(drafts).limit(1).for('update');
    if (!draft) return false;
    await tx.insert(discardedDrafts).values({ plan: draft.plan, basedOn: draft.basedOn, discardedAt: now });
    await tx.delete(drafts);
    const kept = await tx
      .select({ id: discardedDrafts.id })
      .from(discardedDrafts)
      .orderBy(desc(discardedDrafts.id))
      .limit(mostDiscarded);
    await tx.delete(discardedDrafts).where(
      notInArray(
        discardedDrafts.id,
        kept.map(({ id }) => id),
      ),
    );
    return true;
  });
}

/** The drafts that were thrown away within a day, the latest first. */
export async function listDiscardedDrafts(database: Database, now: number): Promise<readonly DiscardedDraft[]> {
  return await database.db
    .select()
    .from(discardedDrafts)
    .where(gt(discardedDrafts.discardedAt, now - discardedStay))
    .orderBy(desc(discardedDrafts.id));
}

/** Makes a discarded draft the draft again; the one there may be takes its place among the discarded. False where it is gone. */
export async function takeUpDraft(database: Database, id: number, now: number): Promise<boolean> {
  return await database.db.transaction(async (tx) => {
    const [chosen] = await tx
      .select()
      .from(discardedDrafts)
      .where(and(eq(discardedDrafts.id, id), gt(discardedDrafts.discardedAt, now - discardedStay)))
      .for('update');
    if (!chosen) return false;
    const [draft] = await tx.select().from(drafts).limit(1).for('update');
    if (draft) await tx.insert(discardedDrafts).values({ plan: draft.plan, basedOn: draft.basedOn, discardedAt: now });
    await tx.delete(discardedDrafts).where(eq(discardedDrafts.id, id));
    await tx.delete(drafts);
    await tx
      .insert(drafts)
      .values({ id: 1, plan: chosen.plan, basedOn: chosen.basedOn, changedAt: now, rehearsal: null });
    return true;
  });
}

/** Lets go the drafts that were thrown away too long ago. */
export async function cutDiscardedDrafts(database: Database, now: number): Promise<void> {
  await database.db.delete(discardedDrafts).where(lte(discardedDrafts.discardedAt, now - discardedStay));
}
