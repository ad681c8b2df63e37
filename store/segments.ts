import { and, asc, desc, eq, gt, inArray, isNotNull, isNull, lt, sql } from 'drizzle-orm';
import type { SegmentFacts, SegmentPart } from '#core/segments/segment.ts';
import type { Database, Queryable } from './database.ts';
import { segmentParts, segments } from './schema.ts';

/** A segment with its compressed parts, ready to be stored. */
export interface NewSegment {
  readonly tier: string;
  readonly source: string;
  readonly slot: number;
  readonly revision: number;
  readonly facts: SegmentFacts;
  readonly parts: readonly SegmentPart[];
}

/** A stored segment, without its parts. */
export type StoredSegment = typeof segments.$inferSelect;

/** Bytes of parts that go into one statement. */
const statementBytes = 8_000_000;

/** Stores segments and their parts; call it inside a transaction. */
export async function insertSegments(tx: Queryable, added: readonly NewSegment[]): Promise<void> {
  if (added.length === 0) return;
  const rows = added.map(({ tier, source, slot, revision, facts, parts }) => ({
    tier,
    source,
    slot,
    revision,
    ...facts,
    stored: parts.reduce((sum, part) => sum + part.data.length, 0),
  }));
  const ids = await tx.insert(segments).values(rows).$returningId();
  let pending: (typeof segmentParts.$inferInsert)[] = [];
  let bytes = 0;
  for (const [index, { parts }] of added.entries()) {
    for (const { name, data } of parts) {
      pending.push({ segment: ids[index]?.id ?? 0, name, data });
      bytes += data.length;
      if (bytes < statementBytes) continue;
      await tx.insert(segmentParts).values(pending);
      pending = [];
      bytes = 0;
    }
  }
  if (pending.length > 0) await tx.insert(segmentParts).values(pending);
}

/** Segments whose events fall into a window (milliseconds, `to` exclusive), newest first; `tiers` limits to some tiers. */
export async function listSegments(
  database: Database,
  window: { readonly from: number; readonly to: number },
  tiers: readonly string[] | undefined,
): Promise<readonly StoredSegment[]> {
  return await database.db
    .select()
    .from(segments)
    .where(
      and(
        isNull(segments.replacedAt),
        gt(sql`${segments.to} + 1`, window.from),
        lt(segments.from, window.to),
        tiers ? inArray(segments.tier, tiers.length > 0 ? [...tiers] : ['']) : undefined,
      ),
    )
    .orderBy(desc(segments.to));
}

/** The names of all parts of some segments. */
export async function listParts(
  database: Database,
  ids: readonly number[],
): Promise<readonly { readonly segment: number; readonly name: string }[]> {
  if (ids.length === 0) return [];
  const { segment, name } = segmentParts;
  return await database.db
    .select({ segment, name })
    .from(segmentParts)
    .where(inArray(segment, [...ids]));
}

/** Some parts of some segments, compressed. */
export async function readParts(
  database: Database,
  ids: readonly number[],
  names: readonly string[] | undefined,
): Promise<readonly { readonly segment: number; readonly name: string; readonly data: Uint8Array }[]> {
  if (ids.length === 0) return [];
  return await database.db
    .select()
    .from(segmentParts)
    .where(and(inArray(segmentParts.segment, [...ids]), names ? inArray(segmentParts.name, [...names]) : undefined));
}

/** Small segments that could be merged, by tier, source and slot, with those that are worth it first. */
export async function listMergeable(
  database: Database,
  below: number,
): Promise<
  readonly { readonly tier: string; readonly source: string; readonly slot: number; readonly count: number }[]
> {
  return await database.db
    .select({
      tier: segments.tier,
      source: segments.source,
      slot: segments.slot,
      count: sql<number>`count(*)`.mapWith(Number),
    })
    .from(segments)
    .where(and(isNull(segments.replacedAt), lt(segments.events, below)))
    .groupBy(segments.tier, segments.source, segments.slot)
    .having(gt(sql`count(*)`, 1))
    .orderBy(desc(sql`count(*)`));
}

/** The small segments of one tier, source and slot, oldest first. */
export async function smallSegments(
  database: Database,
  of: { readonly tier: string; readonly source: string; readonly slot: number },
  below: number,
): Promise<readonly StoredSegment[]> {
  return await database.db
    .select()
    .from(segments)
    .where(
      and(
        isNull(segments.replacedAt),
        eq(segments.tier, of.tier),
        eq(segments.source, of.source),
        eq(segments.slot, of.slot),
        lt(segments.events, below),
      ),
    )
    .orderBy(asc(segments.id));
}

/**
 * Puts segments in the place of others; false when some of those are gone already, and nothing was done. `alongside` is
 * done in the same transaction.
 */
export async function exchangeSegments(
  database: Database,
  old: readonly number[],
  added: readonly NewSegment[],
  now: number,
  alongside?: (tx: Queryable) => Promise<void>,
): Promise<boolean> {
  return await database.db.transaction(async (tx) => {
    const held = await tx
      .select({ id: segments.id })
      .from(segments)
      .where(and(inArray(segments.id, [...old]), isNull(segments.replacedAt)))
      .for('update');
    if (held.length !== old.length) return false;
    await insertSegments(tx, added);
    await alongside?.(tx);
    await tx
      .update(segments)
      .set({ replacedAt: now })
      .where(inArray(segments.id, [...old]));
    return true;
  });
}

/** Removes segments that were replaced before `before`; returns how many. */
export async function removeReplaced(database: Database, before: number): Promise<number> {
  const rows = await database.db
    .select({ id: segments.id })
    .from(segments)
    .where(and(isNotNull(segments.replacedAt), lt(segments.replacedAt, before)))
    .limit(500);
  return await removeSegments(
    database,
    rows.map((row) => row.id),
  );
}

/** Removes a tier's segments whose last event is older than `before`; returns how many. */
export async function removeExpired(database: Database, tier: string, before: number): Promise<number> {
  const rows = await database.db
    .select({ id: segments.id })
    .from(segments)
    .where(and(eq(segments.tier, tier), lt(segments.to, before)))
    .limit(500);
  return await removeSegments(
    database,
    rows.map((row) => row.id),
  );
}

async function removeSegments(database: Database, ids: readonly number[]): Promise<number> {
  if (ids.length === 0) return 0;
  await database.db.transaction(async (tx) => {
    await tx.delete(segmentParts).where(inArray(segmentParts.segment, [...ids]));
    await tx.delete(segments).where(inArray(segments.id, [...ids]));
  });
  return ids.length;
}

/** What each tier holds now. */
export async function tierContents(database: Database): Promise<
  readonly {
    readonly tier: string;
    readonly events: number;
    readonly weight: number;
    readonly bytes: number;
    readonly stored: number;
    readonly from: number;
    readonly to: number;
    readonly segments: number;
  }[]
> {
  return await database.db
    .select({
      tier: segments.tier,
      events: sql<number>`sum(${segments.events})`.mapWith(Number),
      weight: sql<number>`sum(${segments.weight})`.mapWith(Number),
      bytes: sql<number>`sum(${segments.bytes})`.mapWith(Number),
      stored: sql<number>`sum(${segments.stored})`.mapWith(Number),
      from: sql<number>`min(${segments.from})`.mapWith(Number),
      to: sql<number>`max(${segments.to})`.mapWith(Number),
      segments: sql<number>`count(*)`.mapWith(Number),
    })
    .from(segments)
    .where(isNull(segments.replacedAt))
    .groupBy(segments.tier);
}
