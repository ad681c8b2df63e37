import { and, asc, desc, eq, gt, gte, inArray, isNotNull, isNull, lt, sql } from 'drizzle-orm';
import { encodeHeader, headerNumber } from '#core/segments/header.ts';
import { storedBytes } from '#core/segments/pack.ts';
import { numberParts } from '#core/segments/part-numbers.ts';
import type { NewSegment } from '#core/segments/segment.ts';
import { type Database, later, type Queryable } from '../database.ts';
import { segmentParts, segments } from './schema.ts';

/** A stored segment, without its parts. */
export type StoredSegment = typeof segments.$inferSelect;

const contents = {
  events: sql<number>`coalesce(sum(${segments.events}), 0)`.mapWith(Number),
  bytes: sql<number>`coalesce(sum(${segments.bytes}), 0)`.mapWith(Number),
  stored: sql<number>`coalesce(sum(${segments.stored}), 0)`.mapWith(Number),
  from: sql<number>`coalesce(min(${segments.from}), 0)`.mapWith(Number),
  to: sql<number>`coalesce(max(${segments.to}), 0)`.mapWith(Number),
};

/** Bytes of parts that go into one statement. */
const statementBytes = 8_000_000;

/** Stores segments and their parts; call it inside a transaction. */
export async function insertSegments(tx: Queryable, added: readonly NewSegment[]): Promise<void> {
  if (added.length === 0) return;
  const rows = added.map((segment) => ({
    tier: segment.tier,
    source: segment.source,
    slot: segment.slot,
    revision: segment.revision,
    ...segment.facts,
    stored: storedBytes(segment),
  }));
  const ids = await insertedIds(tx, rows);
  let pending: (typeof segmentParts.$inferInsert)[] = [];
  let bytes = 0;
  for (const [index, { parts, header }] of added.entries()) {
    const numbers = numberParts(parts.map(({ name }) => name));
    const segment = ids[index] as number;
    pending.push({ segment, number: headerNumber, data: header ?? encodeHeader({ parts: numbers }) });
    for (const { name, data } of parts) {
      pending.push({ segment, number: numbers.get(name) as number, data });
      bytes += data.length;
      if (bytes < statementBytes) continue;
      await later(tx, tx.insert(segmentParts).values(pending));
      pending = [];
      bytes = 0;
    }
  }
  if (pending.length > 0) await later(tx, tx.insert(segmentParts).values(pending));
}

/**
 * Inserts segments and returns their ids in the same order. MariaDB names them itself: where servers share the numbers
 * (`auto_increment_increment`), those of one statement do not follow each other.
 */
async function insertedIds(tx: Queryable, rows: readonly (typeof segments.$inferInsert)[]): Promise<readonly number[]> {
  const answer: unknown = await tx.execute(
    sql`${tx
      .insert(segments)
      .values([...rows])
      .getSQL()} returning id`,
  );
  const given: unknown = Array.isArray(answer) ? answer[0] : [];
  const ids = Array.isArray(given) ? given.map(({ id }: { readonly id: unknown }) => Number(id)) : [];
  if (ids.length !== rows.length) throw new Error('The store did not tell the ids of the segments that it took.');
  return ids;
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
        gt(segments.to, window.from - 1),
        lt(segments.from, window.to),
        tiers ? inArray(segments.tier, tiers.length > 0 ? [...tiers] : ['']) : undefined,
      ),
    )
    .orderBy(desc(segments.to));
}

/** When the last event of all segments that end before a time happened, in milliseconds; undefined where there is none. */
export async function lastStoredBefore(database: Database, before: number): Promise<number | undefined> {
  const [last] = await database.db
    .select({ to: segments.to })
    .from(segments)
    .where(and(isNull(segments.replacedAt), lt(segments.to, before)))
    .orderBy(desc(segments.to))
    .limit(1);
  return last?.to;
}

/** A part of a segment, compressed. */
export type StoredPart = typeof segmentParts.$inferSelect;

/** Some parts of some segments, by their numbers; absent ones are left out. */
export async function readParts(
  database: Database,
  ids: readonly number[],
  numbers: readonly number[],
): Promise<readonly StoredPart[]> {
  if (ids.length === 0 || numbers.length === 0) return [];
  return await database.db
    .select()
    .from(segmentParts)
    .where(and(inArray(segmentParts.segment, [...ids]), inArray(segmentParts.number, [...numbers])));
}

/** A tier, source and slot: what segments share that may be merged. */
export type SegmentPlace = Pick<StoredSegment, 'tier' | 'source' | 'slot'>;

/** Where small segments lie that were stored after the one with the id `after`, how many and of how many events, and the greatest id there is. */
export async function newSmallPlaces(
  database: Database,
  after: number,
  below: number,
): Promise<{
  readonly places: readonly (SegmentPlace & { readonly count: number; readonly events: number })[];
  readonly last: number;
}> {
  const { tier, source, slot } = segments;
  const last = sql<number>`max(${segments.id})`.mapWith(Number);
  const places = await database.db
    .select({
      ...{ tier, source, slot, last },
      count: sql<number>`count(*)`.mapWith(Number),
      events: sql<number>`sum(${segments.events})`.mapWith(Number),
    })
    .from(segments)
    .where(and(gt(segments.id, after), isNull(segments.replacedAt), lt(segments.events, below)))
    .groupBy(tier, source, slot);
  return { places, last: places.reduce((last, place) => Math.max(last, place.last), after) };
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

/** Segments, by id, that give way to others. */
export interface SegmentExchange {
  readonly old: readonly number[];
  readonly added: readonly NewSegment[];
  /** In milliseconds; searches that began before it go on with the old ones. */
  readonly now: number;
  readonly alongside?: (tx: Queryable) => Promise<void>;
}

/**
 * Puts segments in the place of others; false when some of those are gone already, and nothing was done. `alongside` is
 * done in the same transaction.
 */
export async function exchangeSegments(
  database: Database,
  { old, added, now, alongside }: SegmentExchange,
): Promise<boolean> {
  return await database.db.transaction(async (tx) => {
    const rows = await tx
      .select({ id: segments.id })
      .from(segments)
      .where(and(inArray(segments.id, [...old]), isNull(segments.replacedAt)))
      .for('update');
    if (rows.length !== old.length) return false;
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

/** Removes a tier's segments whose last event is in a stretch of time (milliseconds, `before` exclusive); returns how many. */
export async function removeExpired(
  database: Database,
  tier: string,
  stretch: { readonly from: number; readonly before: number },
): Promise<number> {
  const rows = await database.db
    .select({ id: segments.id })
    .from(segments)
    .where(and(eq(segments.tier, tier), gte(segments.to, stretch.from), lt(segments.to, stretch.before)))
    .limit(500);
  return await removeSegments(
    database,
    rows.map((row) => row.id),
  );
}

/** The tiers that hold segments, those of plans of long ago among them. */
export async function storedTiers(tx: Pick<Database['db'], 'selectDistinct'>): Promise<readonly string[]> {
  const rows = await tx.selectDistinct({ tier: segments.tier }).from(segments);
  return rows.map(({ tier }) => tier);
}

/** What a tier holds in segments that end in a stretch of time (milliseconds, `before` exclusive). */
export async function contentBetween(
  database: Database,
  tier: string,
  stretch: { readonly from: number; readonly before: number },
): Promise<{
  readonly events: number;
  readonly bytes: number;
  readonly stored: number;
  readonly from: number;
  readonly to: number;
}> {
  const [row] = await database.db
    .select(contents)
    .from(segments)
    .where(
      and(
        isNull(segments.replacedAt),
        eq(segments.tier, tier),
        gte(segments.to, stretch.from),
        lt(segments.to, stretch.before),
      ),
    );
  return row ?? { events: 0, bytes: 0, stored: 0, from: 0, to: 0 };
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
      ...contents,
      weight: sql<number>`sum(${segments.weight})`.mapWith(Number),
      segments: sql<number>`count(*)`.mapWith(Number),
    })
    .from(segments)
    .where(isNull(segments.replacedAt))
    .groupBy(segments.tier);
}
