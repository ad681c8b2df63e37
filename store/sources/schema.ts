import { sql } from 'drizzle-orm';
import {
  bigint,
  boolean,
  char,
  double,
  index,
  int,
  json,
  mysqlTable,
  primaryKey,
  varchar,
} from 'drizzle-orm/mysql-core';
import type { SourceSettings } from '#core/answers/sources.ts';
import type { FileMark } from '#core/consumers/progress.ts';
import { jsonText, longBlob, longText, milliseconds } from '../columns.ts';

/** Logical senders. */
export const sources = mysqlTable('source', {
  name: varchar('name', { length: 64 }).primaryKey(),
  /** `http`, `otlp`, `syslog`, `files`, `objects` or `upload`. */
  kind: varchar('kind', { length: 16 }).notNull(),
  /** `auto`, or the format in which all records are written. */
  format: varchar('format', { length: 16 }).notNull().default('auto'),
  owner: varchar('owner', { length: 64 }).notNull().default(''),
  labels: json('labels').$type<Readonly<Record<string, string>>>().notNull(),
  /** For syslog: a condition over header fields that says which messages are this source's. */
  accepts: longText('accepts').notNull(),
  settings: jsonText<SourceSettings>('settings').notNull().default(sql`'{}'`),
  createdAt: milliseconds('created_at').notNull(),
});

/** Bearer tokens of sources; only their SHA-256 is kept. */
export const tokens = mysqlTable(
  'token',
  {
    hash: char('hash', { length: 64 }).primaryKey(),
    /** Tells tokens apart where one is to be ended. */
    id: int('id').autoincrement().notNull().unique(),
    source: varchar('source', { length: 64 }).notNull(),
    /** The last four characters, for people to tell tokens apart. */
    hint: char('hint', { length: 4 }).notNull(),
    /** Whether requests may say that they bring in history. */
    backfill: boolean('backfill').notNull().default(false),
    createdAt: milliseconds('created_at').notNull(),
    /** From when on it is no longer valid; set when it is rotated with an overlap. */
    expiresAt: milliseconds('expires_at'),
    revokedAt: milliseconds('revoked_at'),
  },
  (table) => [index('token_source').on(table.source)],
);

/** Emitters as they were heard, with their rhythm. An empty name stands for the source as a whole. */
export const emitters = mysqlTable(
  'emitter',
  {
    source: varchar('source', { length: 64 }).notNull(),
    name: varchar('name', { length: 190 }).notNull(),
    firstSeen: milliseconds('first_seen').notNull(),
    lastSeen: milliseconds('last_seen').notNull(),
    facts: jsonText<unknown>('facts').notNull(),
    retired: boolean('retired').notNull().default(false),
    expectedBack: milliseconds('expected_back'),
  },
  (table) => [primaryKey({ columns: [table.source, table.name] }), index('emitter_first').on(table.firstSeen)],
);

/** Announced absences: once, or again and again by a schedule. */
export const maintenance = mysqlTable('maintenance', {
  id: bigint('id', { mode: 'number' }).primaryKey().autoincrement(),
  title: varchar('title', { length: 200 }).notNull(),
  /** A condition over source, emitter, fleet and labels that says who is away. */
  scope: longText('scope').notNull(),
  from: milliseconds('time_from').notNull(),
  /** End of a single window, and the last moment of a recurring one; null for none. */
  to: milliseconds('time_to'),
  /** Cron expression for the beginnings of a recurring window (UTC); empty for a single one. */
  schedule: varchar('schedule', { length: 100 }).notNull().default(''),
  /** Length of each recurrence, in milliseconds. */
  length: milliseconds('length').notNull().default(0),
});

/** Named groups of sources, by a condition over their labels. */
export const fleets = mysqlTable('fleet', {
  name: varchar('name', { length: 64 }).primaryKey(),
  condition: longText('labels_condition').notNull(),
});

/** Sources that are, or were last, read again from a time on. While it goes on nothing is read of the source. */
export const rewinds = mysqlTable('rewind', {
  source: varchar('source', { length: 64 }).primaryKey(),
  /** From which time on (milliseconds); 0 for the start. Events from before it are passed over. */
  from: milliseconds('read_from').notNull(),
  requestedAt: milliseconds('requested_at').notNull(),
  /** `waiting` for what is under way, `cutting` what is stored, `done`. */
  step: varchar('step', { length: 16 }).notNull(),
  /** Stored events that were taken out so far. */
  removed: double('removed').notNull().default(0),
});

/** How far followed files have been read; committed with the events. */
export const filePositions = mysqlTable(
  'file_position',
  {
    source: varchar('source', { length: 64 }).notNull(),
    /** Made when the file was first met; it stays when the file is moved, packed or copied away. */
    file: char('file', { length: 36 }).notNull(),
    /** Device and inode of the file, or of the packed file that holds it now. */
    place: varchar('place', { length: 64 }).notNull(),
    path: varchar('path', { length: 500 }).notNull(),
    offset: milliseconds('offset').notNull(),
    /** Length and hash of how it begins, as it was read. */
    headLength: int('head_length').notNull(),
    headHash: char('head_hash', { length: 32 }).notNull(),
    /** The last places that were reached, the latest last: by them a copy is distinguished from a file that only begins alike. */
    marks: jsonText<readonly FileMark[]>('marks').notNull(),
    /** What was out of the ordinary about the file, in a sentence; empty for nothing. */
    note: varchar('note', { length: 500 }).notNull().default(''),
    changedAt: milliseconds('changed_at').notNull(),
  },
  (table) => [primaryKey({ columns: [table.source, table.file] }), index('file_position_changed').on(table.changedAt)],
);

/** Objects that were picked up, each once. */
export const pickedObjects = mysqlTable(
  'picked_object',
  {
    source: varchar('source', { length: 64 }).notNull(),
    /** SHA-256 of name and version, hexadecimal. */
    identity: char('identity', { length: 64 }).notNull(),
    name: varchar('name', { length: 500 }).notNull().default(''),
    /** Records of it that are stored; the object is done when `done` is set. */
    records: int('records').notNull(),
    done: boolean('done').notNull(),
    problem: varchar('problem', { length: 500 }).notNull().default(''),
    /** How often it could not be read since it last could. */
    attempts: int('attempts').notNull().default(0),
    /** When it is tried again (milliseconds); null when it is done or need not wait. */
    retryAt: milliseconds('retry_at'),
    at: milliseconds('at').notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.source, table.identity] }),
    index('picked_object_at').on(table.source, table.at),
  ],
);

/** Changes in what sources send. */
export const drifts = mysqlTable(
  'drift',
  {
    id: bigint('id', { mode: 'number' }).primaryKey().autoincrement(),
    source: varchar('source', { length: 64 }).notNull(),
    kind: varchar('kind', { length: 24 }).notNull(),
    subject: varchar('subject', { length: 200 }).notNull(),
    text: varchar('text', { length: 500 }).notNull(),
    shows: varchar('shows', { length: 500 }).notNull(),
    since: milliseconds('since').notNull(),
    noticedAt: milliseconds('noticed_at').notNull(),
  },
  (table) => [index('drift_source').on(table.source, table.noticedAt), index('drift_noticed').on(table.noticedAt)],
);

/** What groups of deliveries add to what is known of senders, until all engines have read it and what follows from it is saved. */
export const deltas = mysqlTable(
  'sender_delta',
  {
    id: bigint('id', { mode: 'number' }).primaryKey().autoincrement(),
    kind: varchar('kind', { length: 16 }).notNull(),
    /** The engine that committed the group; it knows already. */
    engine: varchar('engine', { length: 48 }).notNull(),
    at: milliseconds('at').notNull(),
    /** When what was learnt of it was saved (milliseconds); 0: not yet. */
    savedAt: milliseconds('saved_at').notNull().default(0),
    data: longBlob('data').notNull(),
  },
  (table) => [index('sender_delta_saved').on(table.savedAt, table.id), index('sender_delta_engine').on(table.engine)],
);

/** What is known of senders, by its kind; JSON. */
export const learnt = mysqlTable('learnt', {
  kind: varchar('kind', { length: 16 }).primaryKey(),
  facts: jsonText<unknown>('facts').notNull(),
});
