import { and, asc, eq, gte, inArray, lt, lte, sql } from 'drizzle-orm';
import { later, type Queryable } from '../database.ts';
import { rankings, talkerDeltas, talkerSketches } from './schema.ts';

/** Sketches that are written by one statement: each may be some ten thousand bytes. */
const sketchesAtOnce = 50;

/** Notes what a group brought for rankings; call it inside the transaction that stores its events. */
export async function addTalkerDeltas(tx: Queryable, data: Uint8Array): Promise<void> {
  await later(tx, tx.insert(talkerDeltas).values({ data }));
}

/** What groups brought, the first first, at most `most` of them. */
export async function readTalkerDeltas(
  tx: Queryable,
  most: number,
): Promise<readonly { readonly id: number; readonly data: Uint8Array }[]> {
  return await tx.select().from(talkerDeltas).orderBy(asc(talkerDeltas.id)).limit(most);
}

/** Forgets what was put where it belongs. */
export async function removeTalkerDeltas(tx: Queryable, ids: readonly number[]): Promise<void> {
  if (ids.length > 0) await later(tx, tx.delete(talkerDeltas).where(inArray(talkerDeltas.id, [...ids])));
}

/** The number of a ranking that counts so, which is given to it where it is new. */
export async function rankingNumber(tx: Queryable, ranking: string, counts: string): Promise<number> {
  const known = await findRanking(tx, ranking, counts);
  if (known !== undefined) return known;
  await tx.insert(rankings).values({ ranking, counts }).onDuplicateKeyUpdate({ set: { ranking } });
  const number = await findRanking(tx, ranking, counts);
  if (number === undefined) throw new Error(`The ranking ${ranking} got no number.`);
  return number;
}

/** The number of a ranking that counts so; undefined where nothing ever came for it. */
export async function findRanking(tx: Queryable, ranking: string, counts: string): Promise<number | undefined> {
  const [row] = await tx
    .select({ number: rankings.number })
    .from(rankings)
    .where(and(eq(rankings.ranking, ranking), eq(rankings.counts, counts)));
  return row?.number;
}

/** A sketch of a step, packed. */
export type StoredTalkers = typeof talkerSketches.$inferSelect;

/** Which sketches: of a ranking and a level, from a time up to, not including, another one (milliseconds). */
export interface TalkerRange {
  readonly ranking: number;
  readonly level: number;
  readonly from: number;
  readonly to: number;
}

function within({ ranking, level, from, to }: TalkerRange) {
  return and(
    eq(talkerSketches.ranking, ranking),
    eq(talkerSketches.level, level),
    gte(talkerSketches.start, from),
    lt(talkerSketches.start, to),
  );
}

/** The sketches of a range, the earliest first. */
export async function readTalkerSketches(tx: Queryable, range: TalkerRange): Promise<readonly StoredTalkers[]> {
  return await tx.select().from(talkerSketches).where(within(range)).orderBy(asc(talkerSketches.start));
}

/** Single sketches of a level and part, by their starts; they are locked, to be changed. */
export async function lockTalkerSketches(
  tx: Queryable,
  { ranking, level, part }: Pick<StoredTalkers, 'ranking' | 'level' | 'part'>,
  starts: readonly number[],
): Promise<readonly StoredTalkers[]> {
  if (starts.length === 0) return [];
  return await tx
    .select()
    .from(talkerSketches)
    .where(
      and(
        eq(talkerSketches.ranking, ranking),
        eq(talkerSketches.level, level),
        inArray(talkerSketches.start, [...starts]),
        eq(talkerSketches.part, part),
      ),
    )
    .for('update');
}

/** Starts of sketches within a range that the coarser level does not have all of. */
export async function freshTalkerStarts(tx: Queryable, range: TalkerRange): Promise<readonly number[]> {
  const rows = await tx
    .select({ start: talkerSketches.start })
    .from(talkerSketches)
    .where(and(within(range), eq(talkerSketches.fresh, true)));
  return rows.map(({ start }) => start);
}

/** Steps of a level that began before a time (milliseconds) and are to go to the coarser level; the oldest first. */
export async function freshTalkerSteps(
  tx: Queryable,
  level: number,
  before: number,
  most: number,
): Promise<readonly { readonly ranking: number; readonly start: number }[]> {
  return await tx
    .select({ ranking: talkerSketches.ranking, start: talkerSketches.start })
    .from(talkerSketches)
    .where(and(eq(talkerSketches.fresh, true), eq(talkerSketches.level, level), lte(talkerSketches.start, before)))
    .groupBy(talkerSketches.ranking, talkerSketches.start)
    .orderBy(asc(talkerSketches.start))
    .limit(most);
}

/** Writes sketches in the place of those that are there. */
export async function writeTalkerSketches(tx: Queryable, sketches: readonly StoredTalkers[]): Promise<void> {
  for (let i = 0; i < sketches.length; i += sketchesAtOnce)
    await later(
      tx,
      tx
        .insert(talkerSketches)
        .values(sketches.slice(i, i + sketchesAtOnce))
        .onDuplicateKeyUpdate({
          set: { fresh: sql`values(${talkerSketches.fresh})`, data: sql`values(${talkerSketches.data})` },
        }),
    );
}

/** Notes that the coarser level has all of the sketches of a range. */
export async function settleTalkers(tx: Queryable, range: TalkerRange): Promise<void> {
  await tx
    .update(talkerSketches)
    .set({ fresh: false })
    .where(and(within(range), eq(talkerSketches.fresh, true)));
}

/** Lets sketches of a level go that begin before a time (milliseconds); those that are to go to a coarser level stay. */
export async function removeTalkers(tx: Queryable, level: number, before: number): Promise<void> {
  await tx
    .delete(talkerSketches)
    .where(and(eq(talkerSketches.level, level), lt(talkerSketches.start, before), eq(talkerSketches.fresh, false)));
}

/** Forgets everything that was counted for rankings of these ids. */
export async function forgetRankings(tx: Queryable, ids: readonly string[]): Promise<void> {
  if (ids.length === 0) return;
  const known = await tx
    .select({ number: rankings.number })
    .from(rankings)
    .where(inArray(rankings.ranking, [...ids]));
  const numbers = known.map(({ number }) => number);
  if (numbers.length === 0) return;
  await tx.delete(talkerSketches).where(inArray(talkerSketches.ranking, numbers));
  await tx.delete(rankings).where(inArray(rankings.number, numbers));
}
