import { DuckDBInstance } from '@duckdb/node-api';
import { type Connection, createConnection } from 'mysql2/promise';
import type { MetricAnswer } from '../core/answers/metrics.ts';
import { day, minute } from '../core/events/time-units.ts';
import { hours, minutes, placesOf } from '../core/metrics/levels.ts';
import { packPoints } from '../core/metrics/pack-points.ts';
import { newPoints, type Points } from '../core/metrics/points.ts';
import { aggregatesOf } from '../core/metrics/stored-points.ts';
import { firstPlan, type PlanDocument } from '../core/plan/document.ts';
import { seededRandom } from '../core/routing/route.ts';
import { startEngine, type TestEngine } from '../engine/testing/engine.ts';
import { addMetric, seeSeries, writeChunks } from '../store/metrics/metrics.ts';
import { faster, medianTime, type Row } from './measure.ts';
import { planCost } from './plan-cost.ts';

/** A metric of 900 series: 300 paths in three regions. */
const counted: PlanDocument = {
  ...firstPlan,
  metrics: [
    { id: 'requests', name: 'requests', when: '', measure: 'count', by: [{ field: 'path' }, { field: 'region' }] },
  ],
};

/** A metric of which nothing comes: what is read of it was written before. */
const read: PlanDocument = {
  ...firstPlan,
  metrics: [{ id: 'year', name: 'year', when: 'source = none', measure: 'count', by: [{ field: 'path' }] }],
};

/** Series of a year by the hour, and points of a day by the minute that are packed. */
const yearSeries = 20;
const daySeries = 1_000;

/** What a metric of 900 series leaves of the intake's rate; what its points take, and how soon a year of them is read. */
export async function metricRows(mariadb: string, folder: string): Promise<readonly Row[]> {
  const engine = await startEngine(mariadb);
  try {
    return [
      await planCost(engine, counted, { id: 'l intake with a metric of 900 series / without', turns: 16, floor: 0.9 }),
      ...(await packedRows(mariadb)),
      ...(await yearRows(engine, mariadb, folder)),
    ];
  } finally {
    await engine.stop();
  }
}

const aggregates = aggregatesOf('count');

/** Counts of a series in the places of a chunk: as events that come independently do, with the rhythm of the day. */
function counts(random: () => number, places: number, mean: (place: number) => number): Points {
  const points = newPoints(aggregates, places);
  const [state] = points.states;
  for (let place = 0; place < places; place++) {
    const expected = mean(place);
    const normal = Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
    const value = Math.max(0, Math.round(expected + Math.sqrt(expected) * normal));
    if (value === 0 || state?.kind !== 'sum') continue;
    state.values[place] = value;
    points.filled[place] = 1;
  }
  return points;
}

function pointsIn({ filled }: Points): number {
  return filled.reduce((sum, value) => sum + value, 0);
}

/** Bytes of a point: a day of 1,000 series by the minute, packed, and as rows. */
async function packedRows(mariadb: string): Promise<readonly Row[]> {
  const random = seededRandom(11);
  const connection = await createConnection({ uri: mariadb });
  await connection.query('create database bench_points');
  await connection.query('use bench_points');
  await connection.query('create table p (series int, t bigint, v double, primary key (series, t))');
  let bytes = 0;
  let points = 0;
  for (let series = 0; series < daySeries; series++) {
    const rows: [number, number, number][] = [];
    const busy = 0.3 + 2_400 * random() ** 4;
    for (let hour = 0; hour < 24; hour++) {
      const chunk = counts(random, placesOf(minutes), () => busy * (1 + Math.sin((hour / 24) * 2 * Math.PI)));
      bytes += packPoints(chunk, placesOf(minutes)).length;
      points += pointsIn(chunk);
      const [state] = chunk.states;
      chunk.filled.forEach((is, place) => {
        if (is && state?.kind === 'sum')
          rows.push([series, (hour * 60 + place) * minute, state.values[place] as number]);
      });
    }
    if (series < daySeries / 10 && rows.length > 0) await connection.query('insert into p values ?', [rows]);
  }
  await connection.query('analyze table p');
  const [[size]] = (await connection.query(
    "select data_length / greatest(1, (select count(*) from p)) as bytes from information_schema.tables where table_schema = 'bench_points' and table_name = 'p'",
  )) as unknown as [[{ readonly bytes: string }]];
  await connection.end();
  const ours = bytes / points;
  const asRow = Number(size.bytes);
  return [
    { id: 'l 2.5 bytes / bytes of a packed point', ours, peer: 2.5, ratio: 2.5 / ours, floor: 1 },
    { id: 'l bytes of a point as a row / packed', ours, peer: asRow, ratio: asRow / ours, floor: 10 },
  ];
}

/** A year of a metric by the hour: all together, and by its twenty series; beside the same points as rows and as Parquet. */
async function yearRows(engine: TestEngine, mariadb: string, folder: string): Promise<readonly Row[]> {
  const { db } = engine.database;
  await engine.publish(read);
  const metric = await addMetric(db, 'year', 'count');
  const now = Date.now();
  const series = Array.from({ length: yearSeries }, (_, i) => ({
    metric,
    hash: String(i).padStart(64, '0'),
    labels: { path: `/year/${i}` },
    firstSeen: now - 400 * day,
    lastSeen: now,
  }));
  const numbers = [...(await seeSeries(db, series)).values()];
  const random = seededRandom(5);
  const rows: [number, number, number][] = [];
  const last = Math.floor((now - 20 * day) / hours.chunk) * hours.chunk;
  for (let start = last - 13 * hours.chunk; start <= last; start += hours.chunk) {
    const made = [0, ...numbers].map((number) => {
      const points = counts(random, placesOf(hours), (place) => 900 * (1.2 + Math.sin((place / 24) * 2 * Math.PI)));
      const [state] = points.states;
      if (number > 0 && state?.kind === 'sum')
        for (let place = 0; place < points.filled.length; place++)
          rows.push([number, start + place * hours.step, state.values[place] as number]);
      return {
        ...{ metric, level: hours.level, start, series: number, fresh: false },
        data: packPoints(points, placesOf(hours)),
      };
    });
    await writeChunks(db, made);
  }
  const window = { id: 'year', from: new Date(now - 365 * day).toISOString(), to: 'now' };
  const whole = () => engine.ask<MetricAnswer>('metric', window);
  const bySeries = () => engine.ask<MetricAnswer>('metric', { ...window, by: 'path' });
  if ((await bySeries()).lines.length !== yearSeries) throw new Error('All series are answered.');
  for (let i = 0; i < 10; i++) await bySeries();
  const wholeTime = await medianTime(15, whole);
  const seriesTime = await medianTime(15, bySeries);
  const connection = await createConnection({ uri: mariadb });
  const rowTime = await timeOfRows(connection, rows, now - 365 * day);
  await connection.end();
  const duckTime = await timeOfParquet(rows, now - 365 * day, folder);
  return [
    { id: 'l 50 ms / a year of a metric by the hour', ours: wholeTime, peer: 50, ratio: 50 / wholeTime, floor: 1 },
    { id: 'l 100 ms / a year of its 20 series', ours: seriesTime, peer: 100, ratio: 100 / seriesTime, floor: 1 },
    faster('l a year of 20 series: ours / rows', seriesTime, rowTime, 0.6),
    faster('l a year of 20 series: ours / DuckDB over Parquet', seriesTime, duckTime, 0.1),
  ];
}

type PointRow = readonly [series: number, time: number, value: number];

const stepOf = 86_400_000;

async function timeOfRows(connection: Connection, rows: readonly PointRow[], from: number): Promise<number> {
  await connection.query('create database bench_year');
  await connection.query('use bench_year');
  await connection.query('create table p (series int, t bigint, v double, primary key (series, t))');
  for (let i = 0; i < rows.length; i += 10_000)
    await connection.query('insert into p values ?', [rows.slice(i, i + 10_000)]);
  return await medianTime(5, () =>
    connection.query(`select series, t div ${stepOf} as d, sum(v) from p where t >= ${from} group by series, d`),
  );
}

async function timeOfParquet(rows: readonly PointRow[], from: number, folder: string): Promise<number> {
  const duck = await (await DuckDBInstance.create(':memory:')).connect();
  await duck.run('set threads = 1');
  await duck.run('create table p (series int, t bigint, v double)');
  const appender = await duck.createAppender('p');
  for (const [series, time, value] of rows) {
    appender.appendInteger(series);
    appender.appendBigInt(BigInt(time));
    appender.appendDouble(value);
    appender.endRow();
  }
  appender.closeSync();
  await duck.run(`copy p to '${folder}/points.parquet' (format parquet)`);
  return await medianTime(9, async () =>
    (
      await duck.runAndReadAll(
        `select series, t // ${stepOf} as d, sum(v) from read_parquet('${folder}/points.parquet') where t >= ${from} group by all`,
      )
    ).getRows(),
  );
}
