import { afterEach, beforeEach, describe, expect, inject, test } from 'vitest';
import { day, hour, minute } from '#core/events/time-units.ts';
import { hours, minutes, placesOf, tenMinutes } from '#core/metrics/levels.ts';
import { MetricAccumulator } from '#core/metrics/metric-accumulator.ts';
import { packMetricDeltas } from '#core/metrics/metric-delta.ts';
import { levelOf, metricWindow } from '#core/metrics/metric-window.ts';
import { unpackPoints } from '#core/metrics/pack-points.ts';
import { firstPlan } from '#core/plan/document.ts';
import { compileMetric } from '#core/plan/parts/metrics/metric.ts';
import type { MetricDocument } from '#core/plan/parts/metrics/metrics-shape.ts';
import { batchOf } from '#core/testing/batch-of.ts';
import { giveUpLeases, type Lease, takeLeases } from '#store/cluster/leases.ts';
import type { Database } from '#store/database.ts';
import { addMetricDeltas, listMetrics, listSeries, readChunks, readMetricDeltas } from '#store/metrics/metrics.ts';
import { emptyDatabase } from '#store/testing/database.ts';
import { MetricFolding } from './metric-folding.ts';
import { expireMetrics, rollUpMetrics } from './metric-roll-ups.ts';

let database: Database;

beforeEach(async () => {
  database = await emptyDatabase(inject('mariadb'));
});

afterEach(() => database.close());

const metric: MetricDocument = { id: 'lifts', name: 'lifts', when: '', measure: 'count', by: [{ field: 'crane' }] };

/** Has a group of events counted, each of a crane at a time. */
async function tell(events: readonly (readonly [crane: string, time: number])[], of = metric): Promise<void> {
  const take = new MetricAccumulator(compileMetric(of));
  const batch = batchOf(
    events.map(([crane]) => ({ crane })),
    'cranes',
  );
  const times = Float64Array.from(events, ([, time]) => time);
  take.add({ ...batch, time: times }, { now: Date.now() });
  await addMetricDeltas(database.db, packMetricDeltas([take]));
}

async function leaseOf(engine: string): Promise<Lease> {
  const [lease] = await takeLeases(database, ['metrics'], engine);
  if (!lease) throw new Error('another engine has the lease');
  return lease;
}

/** Counts by the start of their step, of all series together or of one; empty steps are left out. */
async function stored(level: typeof minutes, series = 0): Promise<Readonly<Record<number, number>>> {
  const [known] = await listMetrics(database.db);
  const now = Date.now();
  const starts = Array.from({ length: 4_000 }, (_, i) => (Math.floor(now / level.chunk) - i) * level.chunk);
  const chunks = await readChunks(database.db, { metric: known?.number ?? 0, level: level.level }, starts, {
    series: [series],
  });
  const counts: Record<number, number> = {};
  for (const { start, data } of chunks) {
    const { states, filled } = unpackPoints(data, [{ function: 'count' }], placesOf(level));
    const [state] = states;
    filled.forEach((is, place) => {
      if (is === 1 && state?.kind === 'sum') counts[start + place * level.step] = state.values[place] as number;
    });
  }
  return counts;
}

/** The start of an hour some hours ago. */
const hourAgo = (ago: number): number => (Math.floor(Date.now() / hour) - ago) * hour;

describe('what groups reported', () => {
  test('is put into chunks once, whoever holds the lease, and one that was asleep cannot do it late', async () => {
    const at = hourAgo(3);
    const [a, b] = [new MetricFolding(database), new MetricFolding(database)];
    const old = await leaseOf('a');
    await tell([
      ['north', at],
      ['north', at + minute],
      ['south', at],
    ]);
    expect(await a.round(old, Date.now())).toBe(1);
    await tell([['north', at]]);
    await giveUpLeases(database, 'a');
    const lease = await leaseOf('b');
    await expect(a.round(old, Date.now())).rejects.toThrow('metrics');
    expect(await b.round(lease, Date.now())).toBe(1);
    expect(await b.round(lease, Date.now())).toBe(0);
    expect(await readMetricDeltas(database.db, 10)).toEqual([]);
    expect(await stored(minutes)).toEqual({ [at]: 3, [at + minute]: 1 });
    const [known] = await listMetrics(database.db);
    const series = await listSeries(database.db, known?.number ?? 0, 0);
    expect(series.map(({ labels }) => labels.crane).sort()).toEqual(['north', 'south']);
    const north = series.find(({ labels }) => labels.crane === 'north');
    expect(await stored(minutes, north?.number)).toEqual({ [at]: 2, [at + minute]: 1 });
  });

  test('keeps series within the limit, also after another engine has taken over', async () => {
    const at = hourAgo(2);
    const few = { ...metric, limit: 3 };
    await tell(
      ['a', 'b', 'c', 'd', 'e'].map((crane) => [crane, at]),
      few,
    );
    await new MetricFolding(database).round(await leaseOf('a'), Date.now());
    await tell(
      ['c', 'f'].map((crane) => [crane, at]),
      few,
    );
    await giveUpLeases(database, 'a');
    await new MetricFolding(database).round(await leaseOf('b'), Date.now());
    const [known] = await listMetrics(database.db);
    const series = await listSeries(database.db, known?.number ?? 0, 0);
    expect(series.map(({ labels }) => labels.crane)).toEqual(['a', 'b', 'c', true]);
    expect(await stored(minutes, series[3]?.number)).toEqual({ [at]: 3 });
    expect(await stored(minutes)).toEqual({ [at]: 7 });
  });

  test('of as many series as there may be is put where it belongs, and given to coarser levels', async () => {
    const at = hourAgo(2);
    const most = { ...metric, limit: 20_000 };
    for (let part = 0; part < 2; part++)
      await tell(
        Array.from({ length: 10_000 }, (_, i) => [`crane ${part * 10_000 + i}`, at] as const),
        most,
      );
    const lease = await leaseOf('a');
    await new MetricFolding(database).round(lease, Date.now());
    await rollUpMetrics(database, lease, Date.now());
    const [known] = await listMetrics(database.db);
    const series = await listSeries(database.db, known?.number ?? 0, 0);
    expect(series.length).toBe(20_000);
    expect(await stored(minutes)).toEqual({ [at]: 20_000 });
    expect(await stored(hours)).toEqual({ [at]: 20_000 });
    expect(await stored(hours, series[12_345]?.number)).toEqual({ [at]: 1 });
  }, 60_000);

  test('of a time that is not kept by the minute goes to what is kept of it', async () => {
    const [old, older] = [hourAgo(24 * 20), hourAgo(24 * 70)];
    await tell([
      ['north', old + 25 * minute],
      ['north', older + 25 * minute],
    ]);
    const lease = await leaseOf('a');
    await new MetricFolding(database).round(lease, Date.now());
    expect(await stored(minutes)).toEqual({});
    expect(await stored(tenMinutes)).toEqual({ [old + 20 * minute]: 1 });
    expect(await stored(hours)).toEqual({ [older]: 1 });
    await rollUpMetrics(database, lease, Date.now());
    expect(await stored(hours)).toEqual({ [old]: 1, [older]: 1 });
  });
});

describe('coarser levels', () => {
  test('are what they are made of, however late it comes; what is over goes, and nothing else', async () => {
    const at = hourAgo(30);
    const lease = await leaseOf('a');
    const folding = new MetricFolding(database);
    await tell([
      ['north', at],
      ['south', at + 11 * minute],
      ['south', at + 11 * minute],
      ['north', at + 2 * hour],
    ]);
    await folding.round(lease, Date.now());
    for (let i = 0; i < 2; i++) {
      await rollUpMetrics(database, lease, Date.now());
      expect(await stored(tenMinutes)).toEqual({ [at]: 1, [at + 10 * minute]: 2, [at + 2 * hour]: 1 });
      expect(await stored(hours)).toEqual({ [at]: 3, [at + 2 * hour]: 1 });
    }
    await tell([['north', at + 12 * minute]]);
    await folding.round(lease, Date.now());
    await rollUpMetrics(database, lease, Date.now());
    expect(await stored(hours)).toEqual({ [at]: 4, [at + 2 * hour]: 1 });

    // Sixteen days later minutes are gone, and late events still count.
    const later = Date.now() + 16 * day;
    await expireMetrics(database, { ...firstPlan, metrics: [metric] }, later);
    expect(await stored(minutes)).toEqual({});
    await tell([['north', at + 12 * minute]]);
    await folding.round(lease, later);
    await rollUpMetrics(database, lease, later);
    expect(await stored(tenMinutes)).toEqual({ [at]: 1, [at + 10 * minute]: 4, [at + 2 * hour]: 1 });
    expect(await stored(hours)).toEqual({ [at]: 5, [at + 2 * hour]: 1 });
    await expireMetrics(database, { ...firstPlan, metrics: [metric] }, Date.now() + 62 * day);
    expect(await stored(tenMinutes)).toEqual({});
    expect(await stored(hours)).toEqual({ [at]: 5, [at + 2 * hour]: 1 });
    await expireMetrics(database, { ...firstPlan, metrics: [{ ...metric, keep: '30d' }] }, Date.now() + 100 * day);
    expect(await stored(hours)).toEqual({});
  });
});

test('a window is read as finely as its beginning is kept, in at most 500 steps', () => {
  const now = Date.now();
  const read = (from: number, to = 0) => {
    const window = metricWindow(now - from * day, now - to * day, now);
    return [window.every, levelOf(window)];
  };
  expect(read(0.2)).toEqual([minute, minutes]);
  expect(read(3)).toEqual([10 * minute, tenMinutes]);
  expect(read(14)).toEqual([hour, hours]);
  expect(read(456)).toEqual([day, hours]);
  expect(read(20, 19.9)).toEqual([10 * minute, tenMinutes]);
  expect(read(80, 79.9)).toEqual([hour, hours]);
});
