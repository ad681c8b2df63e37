import { sql } from 'drizzle-orm';
import {
  bigint,
  boolean,
  char,
  customType,
  double,
  index,
  int,
  json,
  mysqlTable,
  primaryKey,
  varchar,
} from 'drizzle-orm/mysql-core';

import type { JoinRule } from '#core/formats/join.ts';
import type { MaskRule } from '#core/masks/mask.ts';

const longBlob = customType<{ data: Uint8Array; driverData: Buffer }>({
  dataType: () => 'longblob',
  toDriver: (value) => Buffer.from(value.buffer, value.byteOffset, value.byteLength),
  fromDriver: (value) => value,
});

const longText = customType<{ data: string; driverData: string }>({ dataType: () => 'longtext' });

/** A value kept as JSON text; MariaDB hands its own JSON type out as text anyway. */
const jsonText = <T>(name: string) =>
  customType<{ data: T; driverData: string }>({
    dataType: () => 'longtext',
    toDriver: (value) => JSON.stringify(value),
    // What was written through this column has its type.
    fromDriver: (value): T => JSON.parse(value),
  })(name);

const milliseconds = (name: string) => bigint(name, { mode: 'number' });

/** What a source is set to beyond its name and kind. */
export interface SourceSettings {
  /** Values that are masked before anything is kept. */
  readonly masks?: readonly MaskRule[] | undefined;
  /** For followed files: which, and how lines are joined. */
  readonly globs?: readonly string[] | undefined;
  readonly join?: JoinRule | undefined;
  /** For picked-up objects: the address that lists them, and the template that takes labels out of their names. */
  readonly url?: string | undefined;
  readonly path?: string | undefined;
  /** Nothing is read for now: a rewind is going on. */
  readonly paused?: boolean | undefined;
  /** When it was last rewound (milliseconds): what is read again is no repetition. */
  readonly rewoundAt?: number | undefined;
  /** After a rewind to a time (milliseconds), events from before it are passed over. */
  readonly notBefore?: number | undefined;
  /** It will not come back. */
  readonly retired?: boolean | undefined;
  /** When it is expected back (milliseconds). */
  readonly expectedBack?: number | undefined;
}

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
    source: varchar('source', { length: 64 }).notNull(),
    /** The last four characters, to tell tokens apart. */
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
  changedAt: milliseconds('changed_at').notNull(),
  /** The last rehearsal; null when the draft has changed since. */
  rehearsal: json('rehearsal').$type<unknown>(),
});

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
    index('segment_live').on(table.replacedAt, table.tier, table.to),
    index('segment_slot').on(table.tier, table.source, table.slot, table.replacedAt),
  ],
);

/** The columns of segments, each compressed on its own. */
export const segmentParts = mysqlTable(
  'segment_part',
  {
    segment: bigint('segment', { mode: 'number' }).notNull(),
    name: varchar('name', { length: 300 }).notNull(),
    data: longBlob('data').notNull(),
  },
  (table) => [primaryKey({ columns: [table.segment, table.name] })],
);

/** Deliveries that were committed under a key, so that a repeated one is not stored twice. */
export const intakeKeys = mysqlTable(
  'intake_key',
  {
    source: varchar('source', { length: 64 }).notNull(),
    key: varchar('delivery', { length: 200 }).notNull(),
    accepted: int('accepted').notNull(),
    rejected: int('rejected').notNull(),
    at: milliseconds('at').notNull(),
  },
  (table) => [primaryKey({ columns: [table.source, table.key] }), index('intake_key_at').on(table.at)],
);

/** The volume ledger. */
export const ledger = mysqlTable(
  'volume_ledger',
  {
    start: milliseconds('start').notNull(),
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
  ],
);

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

/** Tables that steps look values up in. */
export const lookupTables = mysqlTable('lookup_table', {
  name: varchar('name', { length: 64 }).primaryKey(),
  csv: longText('csv').notNull(),
  changedAt: milliseconds('changed_at').notNull(),
});

/** How far followed files have been read; committed with the events. */
export const filePositions = mysqlTable(
  'file_position',
  {
    source: varchar('source', { length: 64 }).notNull(),
    /** What tells a file apart wherever it is moved: device, inode, and a hash of how it begins. */
    identity: varchar('identity', { length: 120 }).notNull(),
    path: varchar('path', { length: 500 }).notNull(),
    offset: milliseconds('offset').notNull(),
    changedAt: milliseconds('changed_at').notNull(),
  },
  (table) => [primaryKey({ columns: [table.source, table.identity] })],
);

/** Objects that were picked up, each once. */
export const pickedObjects = mysqlTable(
  'picked_object',
  {
    source: varchar('source', { length: 64 }).notNull(),
    /** Name and version of the object. */
    identity: varchar('identity', { length: 400 }).notNull(),
    /** Records of it that are stored; the object is done when `done` is set. */
    records: int('records').notNull(),
    done: boolean('done').notNull(),
    problem: varchar('problem', { length: 500 }).notNull().default(''),
    at: milliseconds('at').notNull(),
  },
  (table) => [primaryKey({ columns: [table.source, table.identity] })],
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
  (table) => [index('drift_source').on(table.source, table.noticedAt)],
);
