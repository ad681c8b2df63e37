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
  tinyint,
  uniqueIndex,
  varchar,
} from 'drizzle-orm/mysql-core';

import type { SourceSettings } from '#core/answers/sources.ts';
import type { FileMark } from '#core/consumers/progress.ts';
import type { PriceBook } from '#core/costs/price-book.ts';
import type { SeriesLabels } from '#core/metrics/labels.ts';

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

export const priceBooks = mysqlTable('price_book', {
  number: int('number').primaryKey().autoincrement(),
  book: jsonText<PriceBook>('book').notNull(),
  savedAt: milliseconds('saved_at').notNull(),
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

/** What belongs to the installation as a whole, by name. */
export const installation = mysqlTable('installation', {
  name: varchar('name', { length: 64 }).primaryKey(),
  value: varchar('value', { length: 200 }).notNull(),
});

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

/** Tables that steps look values up in. */
export const lookupTables = mysqlTable('lookup_table', {
  name: varchar('name', { length: 64 }).primaryKey(),
  csv: longText('csv').notNull(),
  changedAt: milliseconds('changed_at').notNull(),
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
    /** The last places that were reached, the latest last: by them a copy is told from a file that only begins alike. */
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

/** Who may do what only one engine may do at a time. Times are of the database's clock. */
export const leases = mysqlTable('lease', {
  name: varchar('name', { length: 100 }).primaryKey(),
  /** The engine that has it; empty for none. */
  holder: varchar('holder', { length: 48 }).notNull(),
  /** Grows with each holder, so that one that was asleep cannot write late. */
  token: bigint('token', { mode: 'number' }).notNull(),
  /** Grows with each sign of life of its holder. */
  beat: bigint('beat', { mode: 'number' }).notNull().default(0),
});

/** What groups of deliveries deltas, until all engines have heard it and what was learnt of it is saved. */
export const deltas = mysqlTable(
  'told',
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
  (table) => [index('told_saved').on(table.savedAt, table.id), index('told_engine').on(table.engine)],
);

/** What was learnt from all that was deltas, by its kind; JSON. */
export const learnt = mysqlTable('learnt', {
  kind: varchar('kind', { length: 16 }).primaryKey(),
  facts: jsonText<unknown>('facts').notNull(),
});

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

/** What groups brought for derived metrics, until it is put where it belongs. */
export const metricDeltas = mysqlTable('metric_told', {
  id: bigint('id', { mode: 'number' }).primaryKey().autoincrement(),
  data: longBlob('data').notNull(),
});

/** Points of derived metrics: `points` says what is measured, by which points of a metric are told apart when it changes. */
export const metrics = mysqlTable(
  'metric',
  {
    number: int('number').primaryKey().autoincrement(),
    metric: varchar('metric', { length: 64 }).notNull(),
    points: varchar('points', { length: 300 }).notNull(),
  },
  (table) => [uniqueIndex('metric_points').on(table.metric, table.points)],
);

/** The series of a metric that has keys; number 0 stands for all of them together, and has no row. */
export const metricSeries = mysqlTable(
  'metric_series',
  {
    number: int('number').primaryKey().autoincrement(),
    /** The number of its metric. */
    metric: int('metric').notNull(),
    /** The values of its keys by the fields of the keys; JSON. */
    labels: jsonText<SeriesLabels>('labels').notNull(),
    /** SHA-256 of the labels, hexadecimal. */
    hash: char('hash', { length: 64 }).notNull(),
    /** The first and the last minute in which something came (milliseconds); the last one to the hour. */
    firstSeen: milliseconds('first_seen').notNull(),
    lastSeen: milliseconds('last_seen').notNull(),
  },
  (table) => [
    uniqueIndex('metric_series_labels').on(table.metric, table.hash),
    index('metric_series_seen').on(table.metric, table.lastSeen),
  ],
);

/** Points of a series, packed: of an hour by the minute, of a day by ten minutes, or of 30 days by the hour. */
export const metricChunks = mysqlTable(
  'metric_chunk',
  {
    metric: int('metric').notNull(),
    /** How finely: 0 by the minute, 1 by ten minutes, 2 by the hour. */
    level: tinyint('level').notNull(),
    start: milliseconds('start').notNull(),
    series: int('series').notNull(),
    /** Whether the coarser levels do not have all of it yet. */
    fresh: boolean('fresh').notNull(),
    data: longBlob('data').notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.metric, table.level, table.start, table.series] }),
    index('metric_chunk_fresh').on(table.fresh, table.start),
  ],
);

/** The most series that a metric of the plan had on a day (of UTC, counted from 1970-01-01). */
export const metricDays = mysqlTable(
  'metric_day',
  {
    day: int('day').notNull(),
    /** The id of the metric in the plan. */
    metric: varchar('metric', { length: 64 }).notNull(),
    series: int('series').notNull(),
  },
  (table) => [primaryKey({ columns: [table.day, table.metric] })],
);

/** Metrics that are filled in, or were, from events that were stored before they began. */
export const metricFills = mysqlTable('metric_fill', {
  /** The number of the metric. */
  metric: int('metric').primaryKey(),
  /** The revision in which it began: what was processed from then on it counted itself. */
  revision: int('revision').notNull(),
  /** Up to which time (milliseconds) it is filled in: from the latest backwards. */
  next: milliseconds('next').notNull(),
  isDone: boolean('is_done').notNull(),
});

/** What groups brought for rankings, until it is put where it belongs. */
export const talkerDeltas = mysqlTable('talkers_told', {
  id: bigint('id', { mode: 'number' }).primaryKey().autoincrement(),
  data: longBlob('data').notNull(),
});

/** Rankings: `counts` says what is counted by what, by which sketches of a ranking are told apart when it changes. */
export const rankings = mysqlTable(
  'ranking',
  {
    number: int('number').primaryKey().autoincrement(),
    ranking: varchar('ranking', { length: 64 }).notNull(),
    counts: varchar('counts', { length: 700 }).notNull(),
  },
  (table) => [uniqueIndex('ranking_counts').on(table.ranking, table.counts)],
);

/** Who contributed most in a step of time, packed and deflated. */
export const talkerSketches = mysqlTable(
  'talkers',
  {
    ranking: int('ranking').notNull(),
    /** How finely: 0 by five minutes, 1 by the hour, 2 by the day. */
    level: tinyint('level').notNull(),
    start: milliseconds('start').notNull(),
    /** 0: made of the finer level; 1: what came when that was gone. */
    part: tinyint('part').notNull(),
    /** Whether the coarser level does not have all of it yet. */
    fresh: boolean('fresh').notNull(),
    data: longBlob('data').notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.ranking, table.level, table.start, table.part] }),
    index('talkers_fresh').on(table.fresh, table.start),
  ],
);

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

/** Numbers that grow: `changes` with every command, by which the other engines see that something changed. */
export const counters = mysqlTable('counter', {
  name: varchar('name', { length: 32 }).primaryKey(),
  value: bigint('value', { mode: 'number' }).notNull(),
});
