import { textAt } from '../core/events/text-table.ts';
import { compilePlan } from '../core/plan/compile.ts';
import { countShapes } from '../core/routing/shape-counts.ts';
import { corpus, groupingAccuracy } from '../core/shapes/testing/corpus.ts';
import { batchOf, Learners } from '../core/shapes/testing/learn.ts';
import type { Delivery } from '../engine/deliveries/delivery.ts';
import { processGroup } from '../engine/workers/process.ts';
import { readDelivery } from '../engine/workers/read-delivery.ts';
import { chunks } from './events.ts';
import { learntShaper } from './learnt-shaper.ts';
import { compared, type Row } from './measure.ts';

/** What values look like, to an expression that masks them. */
const masking =
  /\d{4}-\d\d-\d\dT[\d:.]+Z?|\b\d{1,3}(?:\.\d{1,3}){3}(?::\d+)?\b|\b[0-9a-f]{8,}\b|"(?:[^"\\]|\\.)*\d(?:[^"\\]|\\.)*"|\/[\w/.-]+|\S*\d\S*/gi;

/** Lines that are generated for the accuracy. */
const generated = 2_000_000;
/** Of how many lines in a hundred the shape may be wrong. */
const leastAccuracy = 0.95;

/** What shapes cost beside masking the lines, and beside the whole way of an event; how right they are. */
export async function shapeRows(): Promise<readonly Row[]> {
  return [await maskingRow(), await intakeRow(), accuracyRow()];
}

/** Shapes of lines against an expression that masks their values, and a table of what is left. */
async function maskingRow(): Promise<Row> {
  const { lines } = corpus(60_000, 10, 50, 4);
  const batch = batchOf(lines);
  const shaper = learntShaper([batch]);
  const texts = Array.from({ length: batch.rows }, (_, row) => textAt(batch.body, row));
  const groups = new Map<string, number>();
  const mask = (): void => {
    for (const text of texts) {
      const masked = text.replace(masking, '#');
      groups.set(masked, (groups.get(masked) ?? 0) + 1);
    }
  };
  return await compared('j shapes of lines / masking expression', 9, () => shaper.shaped(batch), mask, 1.8);
}

/** The share of an event's way that its shape may cost. */
const mostCost = 0.15;

/** What a thread does with the bench's events, from bytes to what is to be committed, against what of it are shapes. */
async function intakeRow(): Promise<Row> {
  const now = Date.now();
  const deliveries = [...chunks()].slice(0, 16).map((bytes): Delivery => {
    const shared = { shape: 'lines', format: 'auto', gzip: false, backfill: false, tapeEvery: 20 } as const;
    return { source: 'bench', chunks: [bytes], received: now, ...shared };
  });
  const batches = deliveries.flatMap((delivery) => {
    const read = readDelivery(delivery);
    return 'result' in read ? [read.result.batch] : [];
  });
  const compiled = compilePlan({ plan: 1, pipelines: [], tiers: [{ id: 'rest', title: 'Rest', keep: '7d' }] });
  const shaper = learntShaper(batches);
  const routed = batches.map((batch) => compiled.run(shaper.shaped(batch), { now, random: Math.random }));
  const task = { deliveries, revision: 1, now, profiled: false, followers: [] };
  const row = await compared(
    'j way of an event in a thread / its shape, at most 15 %',
    9,
    () => {
      for (const batch of batches) shaper.shaped(batch);
      for (const one of routed) countShapes(one, now);
    },
    () => processGroup(compiled, task),
    1,
  );
  return { ...row, ratio: row.ratio * mostCost };
}

/** The share of generated lines whose group is that of their shape, against what is asked. */
function accuracyRow(): Row {
  const { lines, shapeOf } = corpus(generated, 10, 50, 11);
  const learners = new Learners(2);
  const ids = learners.learn(lines).map((id) => learners.current(id));
  const accuracy = groupingAccuracy(shapeOf, ids);
  return {
    id: 'j shapes of 2 million lines grouped rightly, against 0.95',
    ours: accuracy,
    peer: leastAccuracy,
    ratio: accuracy / leastAccuracy,
    floor: 1,
  };
}
