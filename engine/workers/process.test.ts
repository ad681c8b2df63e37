import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { NewTapeChunk } from '#core/consumers/tape.ts';
import { day, minute } from '#core/events/time-units.ts';
import { unpackHeard } from '#core/health/pack-heard.ts';
import { compilePlan } from '#core/plan/compile.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { LedgerEntry } from '#core/routing/ledger.ts';
import type { NewSegment } from '#core/segments/segment.ts';
import { tapedBatch } from '#core/tape/taped.ts';
import type { Delivery, DeliveryAnswer } from '../deliveries/delivery.ts';
import { delivery, received } from '../testing/deliveries.ts';
import { processGroup } from './process.ts';
import { recordsOfChunk } from './tape.ts';

const plan: PlanDocument = {
  plan: 1,
  pipelines: [
    {
      id: 'scan',
      title: 'Scans',
      when: '',
      steps: [
        { extract: { from: 'body', template: 'scan {ref} {result}' }, 'on-failure': 'reject', when: 'body = scan*' },
      ],
    },
  ],
  tiers: [
    {
      id: 'incidents',
      title: 'Incidents',
      when: 'result = refused',
      keep: '30d',
    },
    {
      id: 'scans',
      title: 'Scans',
      when: 'has result',
      keep: '7d',
      exclusions: [
        { id: 'again', title: 'Repeats', when: 'result = again', keep: 'none' },
        { id: 'open', title: 'Opened', when: 'result = open', keep: '1 in 4' },
      ],
    },
  ],
};

const compiled = compilePlan(plan);

/** What a group came to, with the effects that are looked at below. */
interface Result {
  readonly answers: readonly DeliveryAnswer[];
  readonly segments: readonly NewSegment[];
  readonly ledger: readonly LedgerEntry[];
  readonly tape: readonly NewTapeChunk[];
  readonly observed: ReturnType<typeof unpackHeard>;
  readonly steps: number;
}

async function run(deliveries: readonly Delivery[], profiled = true): Promise<Result> {
  const task = { deliveries, revision: 3, now: received, profiled, followers: [] };
  const { answers, effects } = processGroup(compiled, task);
  const { segments = [], ledger = [], tape = [], heard, steps } = effects;
  const observed = heard ? unpackHeard(heard) : [];
  return { answers, segments, ledger, tape, observed, steps: steps?.steps.size ?? 0 };
}

/** Events and bytes of the ledger by outcome. */
function outcomes({ ledger }: Result): Readonly<Record<string, number>> {
  const sums: Record<string, number> = {};
  for (const { outcome, events } of ledger) if (events > 0) sums[outcome] = (sums[outcome] ?? 0) + events;
  return sums;
}

describe('what becomes of a delivery', () => {
  const lines = ['scan A refused', 'scan B again', 'scan C closed', 'scan', 'hello'];

  test('each event goes one way, and the ledger tells which', async () => {
    const result = await run([delivery(lines, { format: 'text' })]);
    expect(outcomes(result)).toEqual({ kept: 2, excluded: 1, rejected: 1, passing: 1 });
    expect(result.answers).toEqual([{ kind: 'stored', accepted: 5, rejected: 0, problems: [], notes: [] }]);
    const stored = result.segments.map(({ tier, facts }) => [tier, facts.events]).sort();
    expect(stored).toEqual([
      ['incidents', 1],
      ['passing', 2],
      ['rejects', 1],
      ['scans', 1],
    ]);
    const ruled = result.ledger.filter(({ rule }) => rule !== '').map(({ tier, rule }) => `${tier} ${rule}`);
    expect(ruled.sort()).toEqual([' scan/1', 'scans again']);
    expect(result.segments.every(({ revision }) => revision === 3)).toBe(true);
  });

  test('deliveries that are refused leave the others alone', async () => {
    const result = await run([delivery('x', { gzip: true }), delivery(lines, { format: 'text' })]);
    expect(result.answers.map(({ kind }) => kind)).toEqual(['refused', 'stored']);
    expect(Object.values(outcomes(result)).reduce((a, b) => a + b, 0)).toBe(5);
  });

  test('the tape holds what arrived, so that it reads as the same events', async () => {
    const result = await run([delivery(lines, { format: 'text' })]);
    const [chunk] = result.tape;
    const records = recordsOfChunk(chunk as NewTapeChunk);
    expect(records.map(([, weight, format, raw]) => [weight, format, raw])).toEqual(
      lines.map((line) => [1, 'text', line]),
    );
    const batch = tapedBatch('gates', records, 3);
    expect([...batch.weight]).toEqual([3, 3, 3, 3, 3]);
    expect([...batch.size]).toEqual(lines.map((line) => line.length));
    expect([...batch.received]).toEqual(lines.map(() => received));
  });

  test('events that did not come as lines are taped with the bytes they came with', async () => {
    const record = { severityNumber: 9, body: { stringValue: 'rope' }, attributes: [] };
    const body = JSON.stringify({ resourceLogs: [{ scopeLogs: [{ logRecords: [record, record] }] }] });
    const result = await run([delivery(body, { shape: 'otlp-json', source: 'vessels' })]);
    const arrived = result.ledger.reduce((sum, { bytes }) => sum + bytes, 0);
    const [chunk] = result.tape;
    const records = recordsOfChunk(chunk as NewTapeChunk);
    const batch = tapedBatch('vessels', records);
    expect(batch.rows).toBe(2);
    expect([...batch.size].reduce((sum, size) => sum + size, 0)).toBe(arrived);
  });

  test('history goes into the days it is of, expired days are left out, and it is no sign of life', async () => {
    const at = (back: number): string => new Date(received - back).toISOString();
    const old = [1, 3, 40].map((days) => `{"time":"${at(days * day)}","result":"refused"}`);
    const result = await run([delivery(old, { backfill: true })]);
    expect(result.segments.map(({ slot }) => slot).sort()).toEqual(
      [3, 1].map((days) => Math.floor((received - days * day) / day) * day),
    );
    expect(result.steps).toBe(0);
    expect(result.observed[0]?.list[0]?.arrivals.spans.length).toBeGreaterThan(1);
  });

  test('after a rewind to a time, older events are passed over', async () => {
    const at = (back: number): string => new Date(received - back).toISOString();
    const both = [10 * minute, 2 * minute].map((back) => `{"time":"${at(back)}","result":"refused"}`);
    expect(outcomes(await run([delivery(both, { notBefore: received - 5 * minute })]))).toEqual({ kept: 1 });
  });
});

test('nothing is lost or doubled, whatever the lines and however they are cut into deliveries', async () => {
  const line = fc.oneof(
    fc.constantFrom('scan A refused', 'scan B again', 'scan C open', 'scan', '{"result":"open"}', '{"a":'),
    fc.string({ maxLength: 40 }).filter((text) => text.trim() !== '' && !/[\n\r]/.test(text)),
  );
  await fc.assert(
    fc.asyncProperty(fc.array(fc.array(line, { minLength: 1, maxLength: 12 }), { maxLength: 4 }), async (parts) => {
      const result = await run(
        parts.map((lines) => delivery(lines, { format: 'text' })),
        false,
      );
      const accepted = result.answers.reduce(
        (sum, answer) => sum + (answer.kind === 'stored' ? answer.accepted : 0),
        0,
      );
      const all = outcomes(result);
      const counted = Object.values(all).reduce((a, b) => a + b, 0);
      expect(counted).toBe(accepted);
      const { events, weight } = result.segments
        .filter(({ tier }) => tier !== 'passing')
        .reduce((sum, { facts }) => ({ events: sum.events + facts.events, weight: sum.weight + facts.weight }), {
          events: 0,
          weight: 0,
        });
      expect(events).toBe((all.kept ?? 0) + (all.rejected ?? 0));
      expect(weight).toBeGreaterThanOrEqual(events);
    }),
    { numRuns: 40 },
  );
});
