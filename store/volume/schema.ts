import {
  bigint,
  boolean,
  char,
  double,
  index,
  int,
  mysqlTable,
  primaryKey,
  tinyint,
  varchar,
} from 'drizzle-orm/mysql-core';
import { milliseconds } from '../columns.ts';

/** The volume of a day that is over, by source, tier and outcome. Days are counted from 1970-01-01 in UTC. */
export const volumeDays = mysqlTable(
  'volume_day',
  {
    day: int('day').notNull(),
    source: varchar('source', { length: 64 }).notNull(),
    tier: varchar('tier', { length: 64 }).notNull(),
    outcome: varchar('outcome', { length: 16 }).notNull(),
    events: double('events').notNull(),
    bytes: double('bytes').notNull(),
    stored: double('stored').notNull(),
  },
  (table) => [primaryKey({ columns: [table.day, table.source, table.tier, table.outcome] })],
);

/** The volume of shapes on a day that is over. */
export const shapeDays = mysqlTable(
  'shape_day',
  {
    day: int('day').notNull(),
    shape: char('shape', { length: 10 }).notNull(),
    source: varchar('source', { length: 64 }).notNull(),
    tier: varchar('tier', { length: 64 }).notNull(),
    outcome: varchar('outcome', { length: 16 }).notNull(),
    severity: tinyint('severity').notNull(),
    events: double('events').notNull(),
    bytes: double('bytes').notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.day, table.shape, table.source, table.tier, table.outcome, table.severity] }),
  ],
);

/** How often the volume of a day was changed when it was over, and after which of these changes it was added up. */
export const dayChanges = mysqlTable('day_change', {
  day: int('day').primaryKey(),
  changes: bigint('changes', { mode: 'number' }).notNull(),
  summed: bigint('summed', { mode: 'number' }).notNull(),
});

/** What tiers with caps kept on a day, and what was past the cap. `day` is when the day began, in milliseconds. */
export const capDays = mysqlTable(
  'cap_day',
  {
    tier: varchar('tier', { length: 64 }).notNull(),
    day: milliseconds('day').notNull(),
    events: double('events').notNull(),
    bytes: double('bytes').notNull(),
    overEvents: double('over_events').notNull(),
    overBytes: double('over_bytes').notNull(),
  },
  (table) => [primaryKey({ columns: [table.tier, table.day] })],
);

/** The volume ledger. */
export const ledger = mysqlTable(
  'volume_ledger',
  {
    start: milliseconds('start').notNull(),
    /** How long a stretch the row is about: 0 a minute, 1 an hour, 2 a day. */
    span: tinyint('span').notNull().default(0),
    source: varchar('source', { length: 64 }).notNull(),
    outcome: varchar('outcome', { length: 16 }).notNull(),
    tier: varchar('tier', { length: 64 }).notNull(),
    rule: varchar('rule', { length: 130 }).notNull(),
    parsed: boolean('parsed').notNull(),
    events: double('events').notNull(),
    bytes: double('bytes').notNull(),
    stored: double('stored').notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.start, table.source, table.outcome, table.tier, table.rule, table.parsed] }),
    index('ledger_source').on(table.source, table.start),
    index('ledger_span').on(table.span, table.start),
  ],
);

/** The volume of shapes, in stretches like those of the volume ledger. */
export const shapeVolume = mysqlTable(
  'shape_volume',
  {
    start: milliseconds('start').notNull(),
    span: tinyint('span').notNull().default(0),
    shape: char('shape', { length: 10 }).notNull(),
    source: varchar('source', { length: 64 }).notNull(),
    tier: varchar('tier', { length: 64 }).notNull(),
    outcome: varchar('outcome', { length: 16 }).notNull(),
    /** Severity class: 0 unset, 1 trace … 6 fatal. */
    severity: tinyint('severity').notNull(),
    events: double('events').notNull(),
    bytes: double('bytes').notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.start, table.shape, table.source, table.tier, table.outcome, table.severity] }),
    index('shape_volume_shape').on(table.shape, table.start),
    index('shape_volume_source').on(table.source, table.start),
    index('shape_volume_span').on(table.span, table.start),
  ],
);

/** What emitters sent, by the hour. */
export const emitterVolume = mysqlTable(
  'emitter_volume',
  {
    start: milliseconds('start').notNull(),
    source: varchar('source', { length: 64 }).notNull(),
    name: varchar('name', { length: 190 }).notNull(),
    events: double('events').notNull(),
    bytes: double('bytes').notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.start, table.source, table.name] }),
    index('emitter_volume_source').on(table.source, table.start),
  ],
);
