import {
  bigint,
  boolean,
  char,
  index,
  int,
  mysqlTable,
  primaryKey,
  tinyint,
  uniqueIndex,
  varchar,
} from 'drizzle-orm/mysql-core';
import type { SeriesLabels } from '#core/metrics/labels.ts';
import { jsonText, longBlob, milliseconds } from '../columns.ts';

/** What groups brought for derived metrics, until it is put where it belongs. */
export const metricDeltas = mysqlTable('metric_delta', {
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
export const talkerDeltas = mysqlTable('talker_delta', {
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
