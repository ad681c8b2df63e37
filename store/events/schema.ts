import { bigint, boolean, char, double, index, int, mysqlTable, primaryKey, varchar } from 'drizzle-orm/mysql-core';
import { jsonText, longBlob, longText, milliseconds } from '../columns.ts';

/** Immutable batches of stored events. Times in milliseconds. */
export const segments = mysqlTable(
  'segment',
  {
    id: bigint('id', { mode: 'number' }).primaryKey().autoincrement(),
    tier: varchar('tier', { length: 64 }).notNull(),
    source: varchar('source', { length: 64 }).notNull(),
    /** Start of the day (passing tier: hour) that all its events belong to. */
    slot: milliseconds('slot').notNull(),
    from: milliseconds('time_from').notNull(),
    to: milliseconds('time_to').notNull(),
    events: int('events').notNull(),
    weight: double('weight').notNull(),
    bytes: double('bytes_in').notNull(),
    stored: int('bytes_stored').notNull(),
    revision: int('revision').notNull(),
    /** Set when another segment has taken over its events; it is removed a while later. */
    replacedAt: milliseconds('replaced_at'),
  },
  (table) => [
    index('segment_time').on(table.replacedAt, table.to),
    index('segment_tier').on(table.tier, table.to),
    index('segment_slot').on(table.tier, table.source, table.slot, table.replacedAt),
  ],
);

/** The columns of segments, each compressed on its own. Part 0 is the header: which parts there are, and what is known of the events. */
export const segmentParts = mysqlTable(
  'segment_part',
  {
    segment: bigint('segment', { mode: 'number' }).notNull(),
    number: bigint('number', { mode: 'number', unsigned: true }).notNull(),
    data: longBlob('data').notNull(),
  },
  (table) => [primaryKey({ columns: [table.segment, table.number] })],
);

/** Deliveries that were committed under a key, so that a repeated one is not stored twice. */
export const intakeKeys = mysqlTable(
  'intake_key',
  {
    source: varchar('source', { length: 64 }).notNull(),
    /** SHA-256 of the key, hexadecimal: keys that differ in blanks at their end alone differ. */
    key: char('delivery', { length: 64 }).notNull(),
    accepted: int('accepted').notNull(),
    rejected: int('rejected').notNull(),
    at: milliseconds('at').notNull(),
  },
  (table) => [primaryKey({ columns: [table.source, table.key] }), index('intake_key_at').on(table.at)],
);

/** Deliveries that cannot be stored, as they came; set aside so that they hold up nobody. */
export const quarantine = mysqlTable(
  'quarantine',
  {
    id: bigint('id', { mode: 'number' }).primaryKey().autoincrement(),
    source: varchar('source', { length: 64 }).notNull(),
    reason: varchar('reason', { length: 500 }).notNull(),
    /** Lines or messages in it, as far as they can be counted. */
    records: int('records').notNull(),
    bytes: int('bytes').notNull(),
    at: milliseconds('at').notNull(),
    /** Everything of the delivery but its bytes, JSON. */
    delivery: longText('delivery').notNull(),
    data: longBlob('data').notNull(),
  },
  (table) => [index('quarantine_source').on(table.source, table.at), index('quarantine_at').on(table.at)],
);

/** Kinds of lines, as they were decided. */
export const shapes = mysqlTable(
  'shape',
  {
    id: char('id', { length: 10 }).primaryKey(),
    /** Its words, marks, blanks and holes in order; JSON. */
    skeleton: jsonText<readonly string[]>('skeleton').notNull(),
    /** The first line of it that was met, and whose it was; cut. */
    sample: longText('sample').notNull(),
    source: varchar('source', { length: 64 }).notNull(),
    /** The shape that it was found to be a part of; empty for one that stands for itself. */
    into: char('merged_into', { length: 10 }).notNull().default(''),
    /** When it was met first (milliseconds). */
    firstSeen: milliseconds('first_seen').notNull(),
    /** Of the round that decided about it last. */
    version: bigint('version', { mode: 'number' }).notNull(),
    /** Whether someone said that it is wanted: it is never suggested for exclusion. */
    wanted: boolean('wanted').notNull().default(false),
  },
  (table) => [index('shape_version').on(table.version)],
);

/** Shapes that were met and are not decided about; written with the events that have them. */
export const newShapes = mysqlTable('shape_new', {
  number: bigint('number', { mode: 'number' }).primaryKey().autoincrement(),
  id: char('id', { length: 10 }).notNull(),
  skeleton: jsonText<readonly string[]>('skeleton').notNull(),
  sample: longText('sample').notNull(),
  source: varchar('source', { length: 64 }).notNull(),
  at: milliseconds('at').notNull(),
});

/** The tape: samples of raw arrivals. */
export const tape = mysqlTable(
  'tape_chunk',
  {
    id: bigint('id', { mode: 'number' }).primaryKey().autoincrement(),
    source: varchar('source', { length: 64 }).notNull(),
    from: milliseconds('time_from').notNull(),
    to: milliseconds('time_to').notNull(),
    lines: int('lines').notNull(),
    data: longBlob('data').notNull(),
  },
  (table) => [index('tape_time').on(table.to), index('tape_source').on(table.source, table.to)],
);

/** Encoded batches on their way to followers, in the order of their numbers. */
export const outgoing = mysqlTable(
  'outgoing',
  {
    follower: varchar('follower', { length: 64 }).notNull(),
    number: bigint('number', { mode: 'number' }).notNull(),
    source: varchar('source', { length: 64 }).notNull(),
    events: int('events').notNull(),
    /** Of the events as they arrived, and as they lie here. */
    bytes: double('bytes').notNull(),
    stored: int('bytes_stored').notNull(),
    at: milliseconds('at').notNull(),
    data: longBlob('data').notNull(),
  },
  (table) => [primaryKey({ columns: [table.follower, table.number] })],
);

/** What waits in the spools of followers, and what they lost. */
export const spools = mysqlTable('spool', {
  follower: varchar('follower', { length: 64 }).primaryKey(),
  /** The number of the next batch. */
  next: bigint('next', { mode: 'number' }).notNull(),
  batches: int('batches').notNull(),
  events: double('events').notNull(),
  stored: double('bytes_stored').notNull(),
  deliveredEvents: double('delivered_events').notNull(),
  droppedEvents: double('dropped_events').notNull(),
  droppedAt: milliseconds('dropped_at').notNull(),
});
