import { type DuckDBConnection, DuckDBInstance } from '@duckdb/node-api';
import type { SearchAnswer } from '../core/answers/search.ts';
import { week } from '../core/events/time-units.ts';
import { defaultMemory } from '../engine/base/config.ts';
import { send, startEngine, type TestEngine } from '../engine/testing/engine.ts';
import { besideIntakeRows } from './beside-intake.ts';
import { deliveries, exploreSources, newest, weekEvents, writeWeek } from './explore-events.ts';
import { compared, medianTime, type Row } from './measure.ts';
import { settled } from './settled.ts';
import { usageCost } from './usage-cost.ts';

const window = { from: newest - week, to: newest };
const turns = 5;

/** What the Explore page asks: the newest lines, the histogram, and what the newest have in common. */
const pages: readonly (readonly [title: string, condition: string, where: string, floor: number])[] = [
  ['every event', '', 'true', 8],
  ['status >= 500', 'status >= 500', 'status >= 500', 3],
  ['a word of the body', 'refused', "message ilike '%refused%'", 6],
  ['a value 50 events have', 'ticket = T4711', "ticket = 'T4711'", 3],
  ['a value no event has', 'ticket = T4711000', "ticket = 'T4711000'", 2],
  ['one source and a number', 'source = payments took > 3.5', "source = 'payments' and took > 3.5", 8],
];

const summaries: readonly (readonly [title: string, summary: string, sql: string, floor: number])[] = [
  ['by source', 'count() by source', 'select source, count(*) from e group by 1', 0.5],
  [
    'p95 by a field of 300 values',
    'p95(took) by path',
    'select path, quantile_cont(took, 0.95) from e group by 1',
    0.4,
  ],
  [
    'count by status, every hour',
    'count() by status every 1h',
    "select time_bucket(interval '1 hour', time) t, status, count(*) from e group by 1, 2",
    0.75,
  ],
  [
    'distinct of 50,000 by node',
    'distinct(user) by node',
    'select node, count(distinct "user") from e group by 1',
    0.8,
  ],
];

/** Sends a week of events to the engine, from the oldest on. */
async function load(engine: TestEngine, weeksAgo: number): Promise<void> {
  const all = deliveries(weeksAgo);
  const lane = async (): Promise<void> => {
    for (let next = all.next(); !next.done; next = all.next()) {
      const { source, begins, body } = next.value;
      const answer = await send(engine, source, body, { 'otter-backfill': begins });
      if (!answer.ok) throw new Error(await answer.text());
    }
  };
  await Promise.all(Array.from({ length: 4 }, lane));
}

interface Asked {
  readonly condition?: string;
  readonly show?: string;
  readonly from?: number;
  readonly to?: number;
  readonly lines?: boolean;
}

async function ask(engine: TestEngine, asked: Asked) {
  const { condition = '', show = '', from = window.from, to = window.to, lines = true } = asked;
  const page = lines ? { limit: 100, buckets: 60, fields: true } : { limit: 0, buckets: 0, fields: false };
  return await engine.ask<SearchAnswer>('search', { condition, show, from, to, ...page });
}

const columns = ['source', 'level', 'region', 'node', 'path', 'status', '"user"', 'ticket'];

/** The three questions of a page, to DuckDB. */
async function askDuck(duck: DuckDBConnection, where: string): Promise<void> {
  const width = week / 60;
  const questions = [
    `select floor(epoch_ms(time) / ${width}) b, level, count(*) from e where ${where} group by 1, 2`,
    `select * from e where ${where} order by time desc limit 100`,
    `create or replace temp table n as select * from e where ${where} order by time desc limit 20000`,
    columns
      .map((column) => `(select ${column}::varchar v, count(*) c from n group by 1 order by 2 desc limit 8)`)
      .join(' union all '),
    'select quantile_cont(took, [0.5, 0.95]), quantile_cont(bytes, [0.5, 0.95]) from n',
  ];
  for (const question of questions) await (await duck.runAndReadAll(question)).getRows();
}

async function weekInDuck(file: string): Promise<DuckDBConnection> {
  await writeWeek(file);
  const duck = await (await DuckDBInstance.create(':memory:')).connect();
  await duck.run('set threads = 2');
  const events = `read_json('${file}', format = 'newline_delimited')`;
  await duck.run(
    `copy (select * replace (time::timestamp as time) from ${events} order by time) to '${file}.parquet' (format parquet)`,
  );
  await duck.run(`create view e as select * from read_parquet('${file}.parquet')`);
  return duck;
}

/** A word of one event, which happened in the last tenth of the week. */
const needle = `${weekEvents - 287_655}`;

/** How often the engine is started anew to see how long the first lines take. */
const coldTurns = 5;
/** Within so many milliseconds the first lines are to stand, over two weeks. */
const firstLinesWithin = 1_000;

/** Milliseconds from the question to the first message that has lines. */
async function firstLines(engine: TestEngine): Promise<number> {
  const begun = performance.now();
  const body = JSON.stringify({
    condition: '',
    from: window.from - week,
    to: window.to,
    limit: 100,
    buckets: 60,
    fields: true,
  });
  const headers = {
    'content-type': 'application/json',
    accept: 'application/x-ndjson',
    authorization: `Bearer ${engine.environment.ENGINE_SECRET}`,
  };
  const answer = await fetch(`${engine.api}/operations/search`, { method: 'POST', headers, body });
  let text = '';
  const reader = answer.body?.pipeThrough(new TextDecoderStream()).getReader();
  for (let read = await reader?.read(); read && !read.done; read = await reader?.read()) {
    text += read.value;
    if (text.includes('"events":[{')) return performance.now() - begun;
  }
  throw new Error('there were no lines');
}

/** What the Explore page asks of a week of four sources, against DuckDB; and of two weeks, how fast lines stand. */
export async function exploreRows(mariadb: string, file: string, say: (text: string) => void): Promise<readonly Row[]> {
  const engine = await startEngine(mariadb);
  for (const source of exploreSources) await engine.source(source);
  await engine.publish({ plan: 1, pipelines: [], tiers: [{ id: 'rest', title: 'Rest', keep: '60d' }] });
  await engine.source('small');
  say('Loading two weeks of four sources …');
  await load(engine, 1);
  await load(engine, 0);
  await send(engine, 'small', JSON.stringify({ time: new Date(newest).toISOString(), message: 'one line' }));
  const duck = await weekInDuck(file);
  await settled(engine);
  const { total } = await ask(engine, {});
  if (total !== weekEvents) throw new Error(`${total} of ${weekEvents} events are there`);
  const rows: Row[] = [];
  for (const [title, condition, where, floor] of pages)
    rows.push(
      await compared(
        `i Explore: ${title} / DuckDB`,
        turns,
        () => ask(engine, { condition }),
        () => askDuck(duck, where),
        floor,
      ),
    );
  for (const [title, show, sql, floor] of summaries)
    rows.push(
      await compared(
        `i summary: ${title} / DuckDB`,
        turns,
        () => ask(engine, { show, lines: false }),
        async () => (await duck.runAndReadAll(sql)).getRows().length,
        floor,
      ),
    );
  const failed = { condition: 'status >= 500' };
  const recording = usageCost(await ask(engine, failed));
  const hundredth = (await medianTime(turns, () => ask(engine, failed))) / 100;
  rows.push({
    id: 'i usage: recording it / a hundredth of a search',
    ours: recording,
    peer: hundredth,
    ratio: hundredth / recording,
    floor: 1,
  });
  const timeOf = (from: number) => medianTime(turns, () => ask(engine, { condition: needle, from }));
  const small = await timeOf(newest - week / 10);
  const large = await timeOf(window.from);
  rows.push({
    id: 'i growth: ten times the events, the needle',
    ours: large,
    peer: 2 * small,
    ratio: (2 * small) / large,
    floor: 1,
  });
  rows.push(...(await besideIntakeRows(engine, (condition) => ask(engine, { condition }), defaultMemory)));
  const cold: number[] = [];
  for (let i = 0; i < coldTurns; i++) {
    await engine.kill();
    await engine.restart();
    // The same question to a source of one event brings the code up to speed, not the data.
    for (let k = 0; k < 12; k++) await ask(engine, { condition: 'source = small', to: newest + 1 });
    cold.push(await firstLines(engine));
  }
  const first = cold.sort((a, b) => a - b)[coldTurns >> 1] as number;
  rows.push({
    id: 'i first lines of ten million events, cold / 1 s',
    ours: first,
    peer: firstLinesWithin,
    ratio: firstLinesWithin / first,
    floor: 1,
  });
  await engine.stop();
  return rows;
}
