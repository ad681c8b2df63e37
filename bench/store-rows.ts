import { DuckDBInstance } from '@duckdb/node-api';
import { type Connection, createConnection } from 'mysql2/promise';
import { send, startEngine, type TestEngine } from '../engine/testing/engine.ts';
import { chunks, eventCount } from './events.ts';
import { compared, faster, medianTime, medianTurn, type Row, type Turn } from './measure.ts';
import { settled } from './settled.ts';

interface Question {
  readonly title: string;
  readonly condition: string;
  readonly summary: string;
  /** The same over DuckDB, and over rows with a JSON column. */
  readonly duck: string;
  readonly rows: string;
}

const questions: readonly Question[] = [
  {
    title: 'count by field over time',
    condition: '',
    summary: 'count() by service every 10m',
    duck: "select time_bucket(interval '10 minutes', time) t, service, count(*) from e group by 1, 2",
    rows: "select floor(t / 600000) b, json_value(d, '$.service') s, count(*) from e group by 1, 2",
  },
  {
    title: 'filtered count, text match on a field',
    condition: 'status >= 500 path = /api/sailings/1*',
    summary: 'count()',
    duck: "select count(*) from e where status >= 500 and path ilike '/api/sailings/1%'",
    rows: "select count(*) from e where json_value(d, '$.status') >= 500 and json_value(d, '$.path') like '/api/sailings/1%'",
  },
  {
    title: 'substring in the body',
    condition: '"passenger u777"',
    summary: 'count()',
    duck: "select count(*) from e where message ilike '%passenger u777%'",
    rows: "select count(*) from e where json_value(d, '$.message') like '%passenger u777%'",
  },
  {
    title: 'p95 by two fields',
    condition: '',
    summary: 'p95(took) by service, region',
    duck: 'select service, region, quantile_cont(took, 0.95) from e group by 1, 2',
    rows: "select json_value(d, '$.service') s, json_value(d, '$.region') r, max(cast(json_value(d, '$.took') as double)) from e group by 1, 2",
  },
];

/** Pieces that are sent before it is measured how long all of them take. */
const firstPieces = 12;

/** By how many turns the events are taken in, and which part of them become rows. */
const intakeTurns = 4;
const rowShare = 0.2;

/**
 * Floors of what a question takes beside its peers: about half of what a quiet machine gives. One thread of DuckDB works in
 * this process on a file that the system holds in memory, ours are several processes: on a machine whose cores are shared with
 * others the same rows came to 0.5 and 1.3, 17 and 42 within hours.
 */
const floors = { warm: 0.35, cold: 0.1, rows: 12 };

/** How often a question is put to both while it is known: an answer takes some ten milliseconds, and scatters. */
const warmTurns = 25;

/** How often the engine is started anew for a question, so that nothing of the answer is cached. */
const coldTurns = 5;

/** How often a small source is queried first, until the code of a new engine is compiled. */
const codeTurns = 50;

/** Sends events to a source of the engine; milliseconds until the last one is acknowledged. */
async function sendAll(engine: TestEngine, source: string, pieces: readonly Buffer[]): Promise<number> {
  const started = performance.now();
  let next = 0;
  const lane = async (): Promise<void> => {
    for (let piece = pieces[next++]; piece; piece = pieces[next++]) {
      const answer = await fetch(`${engine.intake}/intake/${source}`, {
        method: 'POST',
        headers: { authorization: `Bearer token-${source}` },
        body: piece as BodyInit,
      });
      if (!answer.ok) throw new Error(await answer.text());
    }
  };
  await Promise.all(Array.from({ length: 4 }, lane));
  return performance.now() - started;
}

/** Takes the events in by turns with a part of them as rows, so that a machine which is slower for a while is so for both. */
async function intakeRow(engine: TestEngine, connection: Connection, pieces: readonly Buffer[]): Promise<Row> {
  await connection.query('create database bench_rows');
  await connection.query('use bench_rows');
  await connection.query(
    'create table e (id bigint auto_increment primary key, t bigint not null, d json not null, key (t))',
  );
  const turns: Turn[] = [];
  const size = pieces.length / intakeTurns;
  for (let first = 0; first < pieces.length; first += size) {
    const ours = await sendAll(engine, 'bench', pieces.slice(first, first + size));
    const lines = pieces.slice(first, first + size * rowShare).flatMap((piece) => piece.toString().split('\n'));
    const started = performance.now();
    for (let i = 0; i < lines.length; i += 1_000) {
      const values = lines.slice(i, i + 1_000).map((text) => [Date.parse(text.slice(9, 33)), text]);
      await connection.query('insert into e (t, d) values ?', [values]);
    }
    turns.push({ ours, peer: (performance.now() - started) / rowShare });
  }
  return medianTurn('d durable intake / multi-row INSERT', turns, 2.5);
}

/** (c) and (d): searches and durable intake against DuckDB and against rows with a JSON column in the same MariaDB. */
export async function storeRows(
  mariadb: string,
  file: string,
  memory: (bytes: number) => void,
): Promise<readonly Row[]> {
  const engine = await startEngine(mariadb);
  const pieces = [...chunks()];
  // The first events bring the code up to speed, as the first turns of the other rows do.
  await engine.source('first');
  await sendAll(engine, 'first', pieces.slice(0, firstPieces));
  const connection = await createConnection({ uri: mariadb, charset: 'utf8mb4' });
  await engine.source('bench');
  const rows: Row[] = [await intakeRow(engine, connection, pieces)];
  await engine.source('small');
  await send(engine, 'small', pieces[0] as Buffer);

  const instance = await DuckDBInstance.create(':memory:');
  const duck = await instance.connect();
  await duck.run('set threads = 1');
  await duck.run(
    `copy (select * replace (time::timestamp as time) from read_json('${file}', format = 'newline_delimited')) to '${file}.parquet' (format parquet)`,
  );
  await duck.run(`create view e as select * from read_parquet('${file}.parquet')`);
  await settled(engine);
  const { total } = await engine.search({ condition: 'source = bench', limit: 0 });
  if (total !== eventCount) throw new Error(`${total} of ${eventCount} events are there`);
  for (const question of questions) {
    // What the peers are asked for: a summary, and nothing beside it.
    const askOf = (source: string) =>
      engine.search({
        condition: `source = ${source} ${question.condition}`,
        summary: question.summary,
        ...{ limit: 0, buckets: 0 },
      });
    const ask = () => askOf('bench');
    const duckAsk = async () => (await duck.runAndReadAll(question.duck)).getRows().length;
    const warm = await compared(`c ${question.title}: warm / DuckDB`, warmTurns, ask, duckAsk, floors.warm);
    const rowsTime = (await medianTime(1, () => connection.query(question.rows))) / rowShare;
    const cold: Turn[] = [];
    for (let i = 0; i < coldTurns; i++) {
      await engine.kill();
      await engine.restart();
      // The same question to another, small source brings the code up to speed, not the data.
      for (let k = 0; k < codeTurns; k++) await askOf('small');
      const begun = performance.now();
      await ask();
      const ours = performance.now() - begun;
      cold.push({ ours, peer: await medianTime(3, duckAsk) });
    }
    rows.push(warm);
    rows.push(medianTurn(`c ${question.title}: cold / DuckDB`, cold, floors.cold));
    rows.push(faster(`c ${question.title}: warm / rows`, warm.ours, rowsTime, floors.rows));
    const metrics = await (await fetch(`${engine.intake}/metrics`)).text();
    memory(Number(/otter_memory_bytes (\d+)/.exec(metrics)?.[1]));
  }
  await connection.end();
  await engine.stop();
  return rows;
}
