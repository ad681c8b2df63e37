import { bigint, char, index, int, json, mysqlTable, varchar } from 'drizzle-orm/mysql-core';
import type { PriceBook } from '#core/costs/book/price-book.ts';
import { jsonText, longText, milliseconds } from '../columns.ts';

/** Published plans. */
export const revisions = mysqlTable('plan_revision', {
  number: int('number').primaryKey(),
  plan: longText('plan').notNull(),
  note: varchar('note', { length: 1000 }).notNull(),
  publishedAt: milliseconds('published_at').notNull(),
  /** What the rehearsal before publishing predicted; null when there was none. */
  predicted: json('predicted').$type<unknown>(),
});

/** The one draft, where there is one (`id` is 1). */
export const drafts = mysqlTable('plan_draft', {
  id: int('id').primaryKey(),
  plan: longText('plan').notNull(),
  /** The revision it began from. */
  basedOn: int('based_on').notNull(),
  /** Grows with each change: one that was made on an older version does not silently take the place of another's. */
  version: bigint('version', { mode: 'number' }).notNull().default(1),
  changedAt: milliseconds('changed_at').notNull(),
  /** The last rehearsal; null when the draft has changed since. */
  rehearsal: json('rehearsal').$type<unknown>(),
});

/** What of the plan is switched for a while: postures that are on, and exclusions that keep something else. */
export const planSwitches = mysqlTable('plan_switch', {
  /** `posture` and its id, or `exclusion` and `tier/exclusion`, with a blank between. */
  name: varchar('name', { length: 150 }).primaryKey(),
  /** What the exclusion keeps meanwhile; empty for a posture. */
  keep: varchar('keep', { length: 40 }).notNull(),
  since: milliseconds('since').notNull(),
  /** From then on it is as it was, whether an engine runs or not. */
  until: milliseconds('until').notNull(),
  reason: varchar('reason', { length: 500 }).notNull(),
  who: varchar('who', { length: 64 }).notNull(),
});

/** With which programs may switch postures and exclusions. */
export const switchTokens = mysqlTable('switch_token', {
  id: int('id').primaryKey().autoincrement(),
  /** SHA-256 of the token, hexadecimal. */
  hash: char('hash', { length: 64 }).notNull().unique(),
  title: varchar('title', { length: 64 }).notNull(),
  /** The last four characters. */
  hint: char('hint', { length: 4 }).notNull(),
  createdAt: milliseconds('created_at').notNull(),
});

/** Price books as they were saved; the last one holds, for all days that its entries name. */
export const priceBooks = mysqlTable('price_book', {
  number: int('number').primaryKey().autoincrement(),
  book: jsonText<PriceBook>('book').notNull(),
  savedAt: milliseconds('saved_at').notNull(),
});

/** Drafts that were thrown away lately, so that they can be taken up again. */
export const discardedDrafts = mysqlTable(
  'plan_draft_discarded',
  {
    id: bigint('id', { mode: 'number' }).primaryKey().autoincrement(),
    plan: longText('plan').notNull(),
    /** The revision it began from. */
    basedOn: int('based_on').notNull(),
    discardedAt: milliseconds('discarded_at').notNull(),
  },
  (table) => [index('plan_draft_discarded_at').on(table.discardedAt)],
);

/**
 * Grace for stored events after a revision shortened their tier or took it out: those from before `before` are kept as
 * long as they were meant to be, until `until`. The row stays, so that the events of a tier that is no more go then.
 */
export const tierGraces = mysqlTable(
  'tier_grace',
  {
    id: bigint('id', { mode: 'number' }).primaryKey().autoincrement(),
    tier: varchar('tier', { length: 64 }).notNull(),
    title: varchar('title', { length: 200 }).notNull(),
    /** The revision that shortened it or took it out. */
    revision: int('revision').notNull(),
    /** How long it kept events before, and keeps them now (0: it was taken out), in milliseconds. */
    keptFor: milliseconds('kept_for').notNull(),
    keepsFor: milliseconds('keeps_for').notNull(),
    before: milliseconds('stored_before').notNull(),
    until: milliseconds('until').notNull(),
  },
  (table) => [index('tier_grace_tier').on(table.tier)],
);

/** Tables that steps look values up in. */
export const lookupTables = mysqlTable('lookup_table', {
  name: varchar('name', { length: 64 }).primaryKey(),
  csv: longText('csv').notNull(),
  changedAt: milliseconds('changed_at').notNull(),
});
