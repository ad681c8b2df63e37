import { startEngine, type TestEngine } from '../engine/testing/engine.ts';
import { chunks } from './events.ts';
import { medianTurn, type Row, type Turn } from './measure.ts';
import { rate } from './rate.ts';

/** What ten people watch. */
const conditions = [
  ...['', 'severity >= error', 'status >= 500', 'source = bench', 'source = gates', 'passenger'],
  ...['service = payments region = isles', '"handled for passenger u777"', 'took > 3.5', 'tier = rest'],
];
/** Turns with and without those who watch, and pieces of 25,000 events in each. */
const turnCount = 24;
const perTurn = 16;

/** Watches by all conditions; what is returned ends that. */
async function watch(engine: TestEngine): Promise<() => Promise<void>> {
  const abort = new AbortController();
  const reading = conditions.map(async (condition) => {
    const answer = await fetch(`${engine.api}/operations/arrivals`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', authorization: `Bearer ${engine.environment.ENGINE_SECRET}` },
      body: JSON.stringify({ condition }),
      signal: abort.signal,
    });
    const reader = (answer.body as ReadableStream<Uint8Array>).getReader();
    await reader.read();
    return reader;
  });
  const readers = await Promise.all(reading);
  const drained = readers.map(async (reader) => {
    for (let read = await reader.read(); !read.done; read = await reader.read());
  });
  return async () => {
    abort.abort();
    await Promise.allSettled(drained);
  };
}

/** What ten views of arrivals leave of the intake’s rate. */
export async function arrivalsRows(mariadb: string): Promise<readonly Row[]> {
  const engine = await startEngine(mariadb);
  await engine.source('bench');
  const pieces = [...chunks()].slice(0, perTurn);
  // The first events bring the code up to speed.
  for (let i = 0; i < 2; i++) await rate(engine, pieces);
  const turns: Turn[] = [];
  for (let i = 0; i < turnCount; i++) {
    // Which comes first changes, as the store has more to merge with every turn.
    const first = i % 2 === 0 ? await rate(engine, pieces) : 0;
    const end = await watch(engine);
    const watched = await rate(engine, pieces);
    await end();
    const alone = first || (await rate(engine, pieces));
    turns.push({ ours: 1 / watched, peer: 1 / alone });
  }
  await engine.stop();
  return [medianTurn('j intake with ten views of arrivals / without', turns, 0.95)];
}
