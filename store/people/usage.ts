import { createHash } from 'node:crypto';
import { and, desc, eq, gte, lt, max, min, type SQL, sql, sum } from 'drizzle-orm';
import type { Reading, UseCount, UsedKind } from '#core/usage/usage.ts';
import type { Usage } from '#core/usage/usage-counts.ts';
import type { Queryable } from '../database.ts';
import { questionUses, thingUses } from './schema.ts';

/** Rows that are written in one statement. */
const rowsAtOnce = 500;

/** Adds what was read on a day (counted from 1970-01-01). */
export async function addUsage(tx: Queryable, day: number, { things, questions }: Usage): Promise<void> {
  for (let from = 0; from < things.length; from += rowsAtOnce)
    await tx
      .insert(thingUses)
      .values(things.slice(from, from + rowsAtOnce).map((use) => ({ ...use, day })))
      .onDuplicateKeyUpdate({ set: added(thingUses) });
  for (let from = 0; from < questions.length; from += rowsAtOnce)
    await tx
      .insert(questionUses)
      .values(questions.slice(from, from + rowsAtOnce).map((use) => ({ ...use, day, hash: hashOf(use.condition) })))
      .onDuplicateKeyUpdate({ set: added(questionUses) });
}

function added({ times, lastAt, oldestAge }: typeof thingUses | typeof questionUses) {
  return {
    times: sql`${times} + values(${times})`,
    lastAt: sql`greatest(${lastAt}, values(${lastAt}))`,
    oldestAge: sql`greatest(${oldestAge}, values(${oldestAge}))`,
  };
}

function hashOf(text: string): string {
  return createHash('sha256').update(text).digest('hex');
}

const counted = <Table extends typeof thingUses | typeof questionUses>({ times, lastAt, oldestAge }: Table) => ({
  times: sum(times).mapWith(Number),
  lastAt: max(lastAt).mapWith(Number),
  oldestAge: max(oldestAge).mapWith(Number),
});

/** How often a thing was read since a day, by the way it was read. */
export async function usageOf(
  tx: Queryable,
  { kind, name, from }: { readonly kind: UsedKind; readonly name: string; readonly from: number },
): Promise<readonly (UseCount & { readonly reading: Reading })[]> {
  return await tx
    .select({ reading: thingUses.reading, ...counted(thingUses) })
    .from(thingUses)
    .where(and(eq(thingUses.kind, kind), eq(thingUses.name, name), gte(thingUses.day, from)))
    .groupBy(thingUses.reading);
}

/** How often each thing of a kind was read since a day, the most read first, at most `most`. */
export async function usageByName(
  tx: Queryable,
  { kind, from, most }: { readonly kind: UsedKind; readonly from: number; readonly most: number },
): Promise<readonly (UseCount & { readonly name: string })[]> {
  return await tx
    .select({ name: thingUses.name, ...counted(thingUses) })
    .from(thingUses)
    .where(and(eq(thingUses.kind, kind), gte(thingUses.day, from)))
    .groupBy(thingUses.name)
    .orderBy(desc(sum(thingUses.times)), thingUses.name)
    .limit(most);
}

/** The names of the things of a kind that were read since a day, in one way of reading or in any; an empty one if some were not counted apart. */
export async function readSince(
  tx: Queryable,
  kind: UsedKind,
  from: number,
  reading?: Reading,
): Promise<readonly string[]> {
  const rows = await tx
    .select({ name: thingUses.name })
    .from(thingUses)
    .where(and(eq(thingUses.kind, kind), gte(thingUses.day, from), reading && eq(thingUses.reading, reading)))
    .groupBy(thingUses.name);
  return rows.map(({ name }) => name);
}

/** The conditions of questions since a day, the last one asked first, at most `most`. */
export async function questionsSince(tx: Queryable, from: number, most: number): Promise<readonly string[]> {
  const rows = await tx
    .select({ condition: questionUses.condition })
    .from(questionUses)
    .where(gte(questionUses.day, from))
    .groupBy(questionUses.hash, questionUses.condition)
    .orderBy(sql`max(${questionUses.lastAt}) desc`)
    .limit(most);
  return rows.map(({ condition }) => condition);
}

/** The first day on which anything was read; undefined if there is none. */
export async function firstUsageDay(tx: Queryable): Promise<number | undefined> {
  const [row] = await tx.select({ day: min(thingUses.day) }).from(thingUses);
  return row?.day ?? undefined;
}

/** Removes the usage of earlier days. */
export async function expireUsage(tx: Queryable, before: number): Promise<void> {
  await tx.delete(thingUses).where(lt(thingUses.day, before) as SQL);
  await tx.delete(questionUses).where(lt(questionUses.day, before) as SQL);
}
