import { and, asc, desc, eq, gt, gte, lt, lte, notInArray } from 'drizzle-orm';
import { fitted } from '#core/events/fitted.ts';
import { day } from '#core/events/time-units.ts';
import { nextDraftVersion } from '../cluster/counters.ts';
import type { Database, Queryable } from '../database.ts';
import { discardedDrafts, drafts, revisions } from './schema.ts';

export type Revision = typeof revisions.$inferSelect;
export type Draft = typeof drafts.$inferSelect;

/** The revision in force; undefined before the first. */
export async function latestRevision(tx: Queryable): Promise<Revision | undefined> {
  const [row] = await tx.select().from(revisions).orderBy(desc(revisions.number)).limit(1);
  return row;
}

/** The revision of that number. */
export async function findRevision(tx: Queryable, number: number): Promise<Revision | undefined> {
  const [row] = await tx.select().from(revisions).where(eq(revisions.number, number));
  return row;
}

/** The revision that was live at a time (milliseconds); undefined where there was none yet. */
export async function revisionAt(tx: Queryable, time: number): Promise<Revision | undefined> {
  const [row] = await tx
    .select()
    .from(revisions)
    .where(lte(revisions.publishedAt, time))
    .orderBy(desc(revisions.number))
    .limit(1);
  return row;
}

/** The latest revisions without their plans, newest first, at most `most`. */
export async function listRevisions(database: Database, most: number): Promise<readonly Omit<Revision, 'plan'>[]> {
  return await database.db
    .select({
      number: revisions.number,
      note: revisions.note,
      publishedAt: revisions.publishedAt,
      predicted: revisions.predicted,
    })
    .from(revisions)
    .orderBy(desc(revisions.number))
    .limit(most);
}

/** Revisions that were published in a stretch of time (milliseconds), without their plans, the earliest first; at most `most`. */
export async function revisionsBetween(
  tx: Queryable,
  stretch: { readonly from: number; readonly to: number },
  most: number,
): Promise<readonly { readonly number: number; readonly note: string; readonly publishedAt: number }[]> {
  return await tx
    .select({ number: revisions.number, note: revisions.note, publishedAt: revisions.publishedAt })
    .from(revisions)
    .where(and(gte(revisions.publishedAt, stretch.from), lt(revisions.publishedAt, stretch.to)))
    .orderBy(asc(revisions.number))
    .limit(most);
}

/** Plans after a revision, the earliest first, at most `most`. */
export async function plansAfter(
  tx: Queryable,
  number: number,
  most: number,
): Promise<readonly { readonly number: number; readonly plan: string; readonly publishedAt: number }[]> {
  return await tx
    .select({ number: revisions.number, plan: revisions.plan, publishedAt: revisions.publishedAt })
    .from(revisions)
    .where(gt(revisions.number, number))
    .orderBy(asc(revisions.number))
    .limit(most);
}

/** Stores a plan as the next revision; fails with a repeated key when another one got the number first. */
export async function addRevision(tx: Queryable, revision: Revision): Promise<void> {
  await tx.insert(revisions).values({ ...revision, note: fitted(revision.note, 1000) });
}

/** The draft, where there is one. */
export async function readDraft(tx: Queryable): Promise<Draft | undefined> {
  const [row] = await tx.select().from(drafts).limit(1);
  return row;
}

/** Stores the draft in place of the one there may be, under a version of its own, which is returned. Call it in a transaction. */
export async function saveDraft(tx: Queryable, draft: Omit<Draft, 'id' | 'version'>): Promise<number> {
  const version = await nextDraftVersion(tx);
  await tx
    .insert(drafts)
    .values({ id: 1, ...draft, version })
    .onDuplicateKeyUpdate({ set: { ...draft, version } });
  return version;
}

/** Notes what a rehearsal of the draft found, unless the draft has changed since. */
export async function saveRehearsal(tx: Queryable, version: number, rehearsal: unknown): Promise<void> {
  await tx.update(drafts).set({ rehearsal }).where(eq(drafts.version, version));
}

/** Takes the draft out: it is published, or as the live plan is. */
export async function removeDraft(tx: Queryable): Promise<void> {
  await tx.delete(drafts);
}

/** The draft, where there is one, locked until the end of the transaction. */
export async function lockDraft(tx: Queryable): Promise<Draft | undefined> {
  const [row] = await tx.select().from(drafts).limit(1).for('update');
  return row;
}

/** A draft that was thrown away and can be taken up again. */
export type DiscardedDraft = typeof discardedDrafts.$inferSelect;

/** How many discarded drafts are kept, and for how long (milliseconds). */
const mostDiscarded = 5;
const discardedStay = day;

/** Throws the draft away; it can be taken up again for a day, until five others were thrown away. False where there is none. Call it in a transaction. */
export async function discardDraft(tx: Queryable, now: number): Promise<boolean> {
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
export async function takeUpDraft(tx: Queryable, id: number, now: number): Promise<boolean> {
  const [chosen] = await tx
    .select()
    .from(discardedDrafts)
    .where(and(eq(discardedDrafts.id, id), gt(discardedDrafts.discardedAt, now - discardedStay)))
    .for('update');
  if (!chosen) return false;
  await discardDraft(tx, now);
  await tx.delete(discardedDrafts).where(eq(discardedDrafts.id, id));
  await saveDraft(tx, { plan: chosen.plan, basedOn: chosen.basedOn, changedAt: now, rehearsal: null });
  return true;
}

/** Lets go the drafts that were thrown away too long ago. */
export async function cutDiscardedDrafts(database: Database, now: number): Promise<void> {
  await database.db.delete(discardedDrafts).where(lte(discardedDrafts.discardedAt, now - discardedStay));
}
