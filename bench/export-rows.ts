import { week } from '../core/events/time-units.ts';
import { send, startEngine, type TestEngine } from '../engine/testing/engine.ts';
import { deliveries, exploreSources, newest } from './explore-events.ts';
import { compared, type Row } from './measure.ts';
import { settled } from './settled.ts';

/** Deliveries of 20,000 events that are exported. */
const parts = 16;
const turns = 5;
/** Exports that are not measured, while the code is still being compiled. */
const warmUp = 4;
/** Events a second that each form is to be written at. */
const wanted = { ndjson: 200_000, csv: 100_000, parquet: 100_000 } as const;
const window = { from: newest - week, to: newest };

const iso = (time: number): string => new Date(time).toISOString();

/** Reads an export to its end and keeps nothing of it, like a client that writes it to a file. */
async function exported(engine: TestEngine, format: string, signal: AbortSignal | null = null): Promise<void> {
  const answer = await fetch(`${engine.api}/operations/exportEvents`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', authorization: `Bearer ${engine.environment.ENGINE_SECRET}` },
    body: JSON.stringify({ condition: '', from: iso(window.from), to: iso(window.to), format }),
    signal,
  });
  if (!answer.ok) throw new Error(await answer.text());
  await answer.body?.pipeTo(new WritableStream());
}

const conditions = ['status >= 500', 'refused', 'source = payments took > 3.5'];

/** Some searches one after the other. */
async function searches(engine: TestEngine): Promise<void> {
  for (const condition of [...conditions, ...conditions])
    await engine.ask('search', { condition, ...window, limit: 100, buckets: 60, fields: true });
}

/** How fast found events are written out, and what is left of searches beside that. */
export async function exportRows(mariadb: string): Promise<readonly Row[]> {
  const engine = await startEngine(mariadb);
  try {
    for (const source of exploreSources) await engine.source(source);
    let events = 0;
    for (const { source, begins, body } of deliveries(0)) {
      if (events >= parts * 20_000) break;
      const answer = await send(engine, source, body, { 'otter-backfill': begins });
      events += Number((await answer.json()).accepted);
    }
    await settled(engine);
    const rows: Row[] = [];
    for (const [format, rate] of Object.entries(wanted)) {
      const seconds: number[] = [];
      for (let turn = -warmUp; turn < turns; turn++) {
        const begun = performance.now();
        await exported(engine, format);
        if (turn >= 0) seconds.push((performance.now() - begun) / 1_000);
      }
      const ours = events / (seconds.sort((a, b) => a - b)[turns >> 1] as number);
      const id = `k export as ${format}, events/s / ${rate.toLocaleString('en')}`;
      rows.push({ id, ours, peer: rate, ratio: ours / rate, floor: 1 });
    }
    rows.push(await besideExportRow(engine));
    return rows;
  } finally {
    await engine.stop();
  }
}

/** Searches beside an export that goes on all the while, by turns with searches alone. */
async function besideExportRow(engine: TestEngine): Promise<Row> {
  let abort = new AbortController();
  let exporting: Promise<unknown> = Promise.resolve();
  const begin = (): void => {
    abort = new AbortController();
    const { signal } = abort;
    const again = async (): Promise<void> => {
      while (!signal.aborted) await exported(engine, 'parquet', signal);
    };
    exporting = again().catch(() => {});
  };
  const beside = async (): Promise<void> => {
    begin();
    await searches(engine);
  };
  const alone = async (): Promise<void> => {
    abort.abort();
    await exporting;
    await searches(engine);
  };
  const row = await compared('k searches beside an export / searches alone', 2 * turns, beside, alone, 0.8);
  abort.abort();
  await exporting;
  return row;
}
