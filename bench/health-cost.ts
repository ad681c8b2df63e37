import { readRecords } from '../core/formats/read.ts';
import { splitLines } from '../core/formats/records.ts';
import { observe } from '../core/health/observe.ts';
import { packHeard } from '../core/health/pack-heard.ts';
import { HealthRegistry } from '../engine/health/registry.ts';
import { send, startEngine } from '../engine/testing/engine.ts';
import { openDatabase } from '../store/database.ts';
import { medianTime, type Row } from './measure.ts';

const emitters = 2_000;
const eventsPerSecond = 20_000;
const deliveries = 16;
/** Milliseconds of one core's second that health may take, and a page. */
const allowed = 50;
const pageAllowed = 300;
/** Seconds of events that are measured; the code is not compiled yet in the first ones. */
const turns = 60;

/** The lines of a delivery: its share of a second of all emitters. */
function lines(delivery: number): string {
  const count = eventsPerSecond / deliveries;
  return Array.from({ length: count }, (_, i) => {
    const emitter = (delivery * count + i) % emitters;
    return `{"level":"info","host":"scanner-${emitter}","site":"pier-${emitter % 40}","firmware":"5.${emitter % 4}","msg":"ticket ${i} open"}`;
  }).join('\n');
}

/** What rates and health of 2,000 emitters cost beside an intake of 20,000 events a second. */
export async function healthCostRow(): Promise<Row> {
  const batches = Array.from({ length: deliveries }, (_, i) => {
    const context = { received: 0, backfill: false };
    const { batch } = readRecords('fleet', splitLines(Buffer.from(lines(i))), 'json', context);
    // A line that has no time of its own has that of its arrival.
    const received = new Float64Array(batch.rows);
    return { ...batch, received, time: received };
  });
  // What is learnt is not saved here, so nothing is asked of a store.
  const registry = new HealthRegistry(openDatabase('mysql://127.0.0.1', 1));
  let now = Date.now();
  const cost = await medianTime(turns, () => {
    now += 1_000;
    batches.forEach((batch, i) => {
      batch.received.fill(now + i * 60);
      registry.learn(packHeard([{ source: 'fleet', backfill: false, list: observe(batch, i % 8 === 0) }]), now);
    });
  });
  return {
    id: 'h 5 % of a core / health at 20,000 events/s',
    ours: cost,
    peer: allowed,
    ratio: allowed / cost,
    floor: 1,
  };
}

/** How soon pages have the health of 2,000 emitters. */
export async function healthPageRow(mariadb: string): Promise<Row> {
  const engine = await startEngine(mariadb);
  await engine.source('fleet');
  for (let i = 0; i < deliveries; i++) await send(engine, 'fleet', lines(i));
  const page = await medianTime(9, async () => engine.ask('health'));
  await engine.stop();
  const ratio = pageAllowed / page;
  return { id: 'h 300 ms / health of 2,000 emitters answered', ours: page, peer: pageAllowed, ratio, floor: 1 };
}
