import { and, asc, eq, gte, lt, sql } from 'drizzle-orm';
import { fitted } from '#core/events/fitted.ts';
import { Ledger, type LedgerEntry } from '#core/routing/ledger.ts';
import { type Database, later, type Queryable } from '../database.ts';
import { noteDaysSince, noteLateDays } from './day-changes.ts';
import { rollUp } from './roll-up.ts';
import { ledger } from './schema.ts';

/** What becomes of a row that is there already. */
const moreVolume = {
  span: sql`greatest(${ledger.span}, values(${ledger.span}))`,
  events: sql`${ledger.events} + values(${ledger.events})`,
  bytes: sql`${ledger.bytes} + values(${ledger.bytes})`,
  stored: sql`${ledger.stored} + values(${ledger.stored})`,
};

/**
 * Adds entries to the ledger; call it inside the transaction that stores their events. `span` is what each is about: 0 a
 * minute (or an hour that will be found to be one), 1 an hour, 2 a day.
 */
export async function addToLedger(tx: Queryable, entries: readonly LedgerEntry[], span = 0): Promise<void> {
  if (span === 0) await noteLateDays(tx, entries, Date.now());
  for (let i = 0; i < entries.length; i += 1000) {
    const rows = entries
      .slice(i, i + 1000)
      .map((entry) => ({ ...entry, span, tier: fitted(entry.tier, 64), rule: fitted(entry.rule, 130) }));
    await later(tx, tx.insert(ledger).values(rows).onDuplicateKeyUpdate({ set: moreVolume }));
  }
}

/** What the ledger can be added up by. */
export const ledgerKeys = ['source', 'outcome', 'tier', 'rule', 'parsed'] as const;

export type LedgerKey = (typeof ledgerKeys)[number];

/** One sum over the ledger. Keys that were not asked for are absent. */
export interface LedgerSum {
  readonly start: number;
  readonly source?: string;
  readonly outcome?: string;
  readonly tier?: string;
  readonly rule?: string;
  readonly parsed?: boolean;
  readonly events: number;
  readonly bytes: number;
  readonly stored: number;
}

/**
 * Sums of the ledger from `from` up to `to` (milliseconds), of one source when given, by the given keys and by stretches of
 * `every` milliseconds (0: all in one). What is older than about a day is counted by the hour, so shorter stretches show up only in recent time.
 */
export async function sumLedger(
  database: { readonly db: Queryable },
  window: { readonly from: number; readonly to: number; readonly source?: string },
  by: readonly LedgerKey[],
  every: number,
): Promise<readonly LedgerSum[]> {
  const start = every > 0 ? sql<number>`floor(${ledger.start} / ${every}) * ${every}` : sql<number>`0`;
  const keys = Object.fromEntries(by.map((key) => [key, ledger[key]]));
  const rows = await database.db
    .select({
      ...keys,
      start: start.mapWith(Number).as('bucket'),
      events: sql<number>`sum(${ledger.events})`.mapWith(Number),
      bytes: sql<number>`sum(${ledger.bytes})`.mapWith(Number),
      stored: sql<number>`sum(${ledger.stored})`.mapWith(Number),
    })
    .from(ledger)
    .where(
      and(
        gte(ledger.start, window.from),
        lt(ledger.start, window.to),
        window.source === undefined ? undefined : eq(ledger.source, window.source),
      ),
    )
    .groupBy(sql.raw('bucket'), ...by.map((key) => ledger[key]));
  return rows as LedgerSum[];
}

/** When each source first and last sent something (milliseconds, to the minute). */
export async function firstAndLastSeen(
  database: Database,
): Promise<ReadonlyMap<string, { readonly first: number; readonly last: number }>> {
  const rows = await database.db
    .select({
      source: ledger.source,
      first: sql<number>`min(${ledger.start})`.mapWith(Number),
      last: sql<number>`max(${ledger.start})`.mapWith(Number),
    })
    .from(ledger)
    .groupBy(ledger.source);
  return new Map(rows.map(({ source, first, last }) => [source, { first, last }]));
}

/** Takes a source's volume since a time (milliseconds) out of the ledger. */
export async function removeLedger(tx: Queryable, source: string, since: number): Promise<void> {
  await tx.delete(ledger).where(and(eq(ledger.source, source), gte(ledger.start, since)));
  await noteDaysSince(tx, since);
}

/**
 * Puts together by the hour what is too old to be kept by the minute, and by the day what is too old for hours. Each
 * stretch is a transaction of its own, which locks nothing but its own rows.
 */
export async function rollUpLedger(database: Database, now: number): Promise<void> {
  const oldest = async (span: number, before: number): Promise<number | undefined> => {
    const [row] = await database.db
      .select({ start: ledger.start })
      .from(ledger)
      .where(and(eq(ledger.span, span), lt(ledger.start, before)))
      .orderBy(asc(ledger.start))
      .limit(1);
    return row?.start;
  };
  await rollUp(now, oldest, async ({ start, step, from, to }) => {
    const within = and(gte(ledger.start, start), lt(ledger.start, start + step), eq(ledger.span, from));
    await database.db.transaction(async (tx) => {
      const rows = await tx.select().from(ledger).where(within).for('update');
      if (rows.length === 0) return;
      await later(tx, tx.delete(ledger).where(within));
      const sums = new Ledger();
      for (const row of rows) sums.add({ ...(row as LedgerEntry), start });
      await addToLedger(tx, sums.list(), to);
    });
  });
}
