import { bigint, char, double, index, int, mysqlTable, primaryKey, varchar } from 'drizzle-orm/mysql-core';
import type { Reading, UsedKind } from '#core/usage/usage.ts';
import { jsonText, longText, milliseconds } from '../columns.ts';

/** Searches that someone saved, by the name under which conditions refer to them. */
export const savedSearches = mysqlTable('saved_search', {
  name: varchar('name', { length: 64 }).primaryKey(),
  condition: longText('search_condition').notNull(),
  /** The window as it was written, such as `-2h`. */
  window: varchar('time_window', { length: 200 }).notNull(),
  /** A summary such as `count() by source`; empty where lines are shown. */
  summary: longText('summary').notNull(),
  owner: varchar('owner', { length: 64 }).notNull(),
  note: varchar('note', { length: 1000 }).notNull(),
  /** Grows with each change. */
  version: int('version').notNull(),
  changedAt: milliseconds('changed_at').notNull(),
});

/** Every change that someone made. */
export const audit = mysqlTable(
  'audit',
  {
    id: bigint('id', { mode: 'number' }).primaryKey().autoincrement(),
    at: milliseconds('at').notNull(),
    /** Who made it; empty as long as there are no accounts. */
    who: varchar('who', { length: 64 }).notNull(),
    command: varchar('command', { length: 64 }).notNull(),
    /** What it changed: the name of a source, the number of a revision. */
    subject: varchar('subject', { length: 200 }).notNull(),
    /** What was asked for, without secrets and without long texts; JSON. */
    input: jsonText<unknown>('input').notNull(),
  },
  (table) => [index('audit_at').on(table.at)],
);

/** How often a thing was read on a day. Days are counted from 1970-01-01 in UTC. */
export const thingUses = mysqlTable(
  'thing_use',
  {
    day: int('day').notNull(),
    kind: varchar('kind', { length: 16 }).$type<UsedKind>().notNull(),
    name: varchar('name', { length: 256 }).notNull(),
    reading: varchar('reading', { length: 16 }).$type<Reading>().notNull(),
    times: int('times').notNull(),
    lastAt: milliseconds('last_at').notNull(),
    oldestAge: milliseconds('oldest_age').notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.kind, table.name, table.reading, table.day] }),
    index('thing_use_day').on(table.day),
  ],
);

/** How often a question was asked on a day. */
export const questionUses = mysqlTable(
  'question_use',
  {
    day: int('day').notNull(),
    reading: varchar('reading', { length: 16 }).$type<Reading>().notNull(),
    /** SHA-256 of the condition, hexadecimal. */
    hash: char('hash', { length: 64 }).notNull(),
    condition: longText('asked_condition').notNull(),
    times: int('times').notNull(),
    lastAt: milliseconds('last_at').notNull(),
    oldestAge: milliseconds('oldest_age').notNull(),
  },
  (table) => [primaryKey({ columns: [table.day, table.reading, table.hash] })],
);

/** Suggestions that were put off or refused. */
export const suggestionDecisions = mysqlTable('suggestion_decision', {
  /** The id of its shape, or of the change, such as `retention:rest`. */
  id: varchar('shape', { length: 100 }).primaryKey(),
  /** Until when it is put off; null: it is refused. */
  until: milliseconds('until'),
  reason: varchar('reason', { length: 500 }).notNull(),
  at: milliseconds('at').notNull(),
});

/** Suggestions that were added to a draft. */
export const takenSuggestions = mysqlTable('suggestion_taken', {
  shape: char('shape', { length: 10 }).primaryKey(),
  at: milliseconds('at').notNull(),
  tiers: jsonText<readonly string[]>('tiers').notNull(),
  coins: double('coins').notNull(),
  sign: varchar('sign', { length: 16 }).notNull(),
});
