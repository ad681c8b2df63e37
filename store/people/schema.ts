import { bigint, index, int, mysqlTable, varchar } from 'drizzle-orm/mysql-core';
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
