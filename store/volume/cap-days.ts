import { and, eq, gte, inArray, lt, type SQL, sql } from 'drizzle-orm';
import { day } from '#core/events/time-units.ts';
import type { CapUse } from '#core/routing/allowances.ts';
import { type Database, later, type Queryable } from '../database.ts';
import { capDays, ledger } from './schema.ts';

/** What a tier with a cap kept on a day, and what was past the cap. Milliseconds, events, bytes as they arrived. */
export type CapDay = typeof capDays.$inferSelect;

/** The tier kept what its day allows while a group was on its way; nothing of the group was stored. */
export class CapSpent extends Error {
  constructor(readonly tier: string) {
    super(`The tier ${tier} has kept what its day allows.`);
  }
}

/** For how long days stay, in milliseconds. */
const daysStay = 400 * day;

/** The days of some tiers that begin from `from` up to `to` (milliseconds). */
export async function listCapDays(
  tx: Queryable,
  tiers: readonly string[],
  window: { readonly from: number; readonly to: number },
): Promise<readonly CapDay[]> {
  if (tiers.length === 0) return [];
  return await tx
    .select()
    .from(capDays)
    .where(and(inArray(capDays.tier, [...tiers]), gte(capDays.day, window.from), lt(capDays.day, window.to)));
}

/**
 * Begins a day of a tier with what the ledger says that it kept of it already; of one that has begun, what was kept while
 * nobody counted is added. So a cap that is new, or back again, counts what came before it on that day.
 */
export async function beginCapDay(
  database: Database,
  tier: string,
  day: { readonly start: number; readonly end: number },
): Promise<void> {
  const [kept] = await database.db
    .select({
      events: sql<number>`coalesce(sum(${ledger.events}), 0)`.mapWith(Number),
      bytes: sql<number>`coalesce(sum(${ledger.bytes}), 0)`.mapWith(Number),
    })
    .from(ledger)
    .where(
      and(eq(ledger.tier, tier), eq(ledger.outcome, 'kept'), gte(ledger.start, day.start), lt(ledger.start, day.end)),
    );
  const { events = 0, bytes = 0 } = kept ?? {};
  await database.db
    .insert(capDays)
    .values({ tier, day: day.start, events, bytes, overEvents: 0, overBytes: 0 })
    .onDuplicateKeyUpdate({
      set: {
        events: sql`greatest(${capDays.events}, values(${capDays.events}))`,
        bytes: sql`greatest(${capDays.bytes}, values(${capDays.bytes}))`,
      },
    });
  await database.db.delete(capDays).where(lt(capDays.day, day.start - daysStay));
}

/**
 * Takes what the ledger says of a source since a time (milliseconds) out of the days of tiers with caps; call it before the
 * ledger forgets it, in the same transaction.
 */
export async function removeCapUse(tx: Queryable, source: string, since: number): Promise<void> {
  const sumOf = (figure: typeof ledger.events | typeof ledger.bytes) =>
    sql`(select coalesce(sum(${figure}), 0) from ${ledger} where ${ledger.source} = ${source}
      and ${ledger.outcome} = 'kept' and ${ledger.tier} = ${capDays.tier}
      and ${ledger.start} >= greatest(${since}, ${capDays.day}) and ${ledger.start} < ${capDays.day} + ${day})`;
  await tx
    .update(capDays)
    .set({
      events: sql`greatest(0, ${capDays.events} - ${sumOf(ledger.events)})`,
      bytes: sql`greatest(0, ${capDays.bytes} - ${sumOf(ledger.bytes)})`,
    })
    .where(gte(capDays.day, since - day));
}

/** What becomes of a day that was begun. */
const moreUse = {
  events: sql`${capDays.events} + values(${capDays.events})`,
  bytes: sql`${capDays.bytes} + values(${capDays.bytes})`,
  overEvents: sql`${capDays.overEvents} + values(${capDays.overEvents})`,
  overBytes: sql`${capDays.overBytes} + values(${capDays.overBytes})`,
};

/**
 * Adds what a group keeps to the days of its tiers; call it inside the group's transaction, late, as the days stay locked
 * until it commits. Throws {@link CapSpent} where others took so much meanwhile that it would be more than a day allows.
 */
export async function addCapUse(tx: Queryable, uses: readonly CapUse[]): Promise<void> {
  // Always in the same order, so that two groups wait for each other and neither for both.
  const ordered = [...uses].sort((a, b) => (a.tier === b.tier ? a.day - b.day : a.tier < b.tier ? -1 : 1));
  for (const { tier, day, events, bytes, overEvents, overBytes, unit, amount } of ordered) {
    const adding = tx
      .insert(capDays)
      .values({ tier, day, events, bytes, overEvents, overBytes })
      .onDuplicateKeyUpdate({ set: moreUse });
    if (amount === null || events === 0) {
      await later(tx, adding);
      continue;
    }
    const used = await usedAfter(tx, adding.getSQL(), unit);
    // Sums of fractions may differ in their last digits.
    if (used > amount * (1 + 1e-9)) throw new CapSpent(tier);
  }
}

/** Adds to a day, and says how much of it is used then. */
async function usedAfter(tx: Queryable, adding: SQL, unit: CapUse['unit']): Promise<number> {
  const answer: unknown = await tx.execute(sql`${adding} returning ${sql.identifier(capDays[unit].name)} as used`);
  const [row]: readonly unknown[] = Array.isArray(answer) && Array.isArray(answer[0]) ? answer[0] : [];
  if (typeof row !== 'object' || row === null || !('used' in row))
    throw new Error('The store did not tell what is used.');
  return Number(row.used);
}
