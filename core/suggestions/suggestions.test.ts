import fc from 'fast-check';
import { expect, test } from 'vitest';
import type { Reader } from '../answers/routing.ts';
import { conditionOf } from '../conditions/condition.ts';
import type { EventBatch } from '../events/batch.ts';
import { textColumn } from '../events/columns.ts';
import { compilePlan } from '../plan/compile.ts';
import type { PlanDocument } from '../plan/document.ts';
import { seededRandom } from '../routing/route.ts';
import { arrival, batchOf } from '../testing/batch-of.ts';
import { addShapeUses, mergeShapeUses, type ShapeUses } from './shape-uses.ts';
import { suggestionsOf } from './suggest.ts';

const plan: PlanDocument = {
  plan: 1,
  pipelines: [],
  tiers: [
    { id: 'long', title: 'Long', keep: '30d', when: 'port = north' },
    { id: 'rest', title: 'Rest', keep: '7d', exclusions: [{ id: 'w', title: 'W', when: 'port = west', keep: 'none' }] },
  ],
};

/** Arrivals at four ports, of which half have the shape `gate` and half the shape `tide`; each stands for two. */
function arrivals(events: number, severity = 9): EventBatch {
  const ports = ['north', 'south', 'west', 'south'];
  const batch = batchOf(
    Array.from({ length: events }, (_, i) => ({ port: ports[(i >> 1) % 4] as string })),
    'gates',
  );
  return {
    ...batch,
    shape: textColumn(Array.from({ length: events }, (_, i) => (i % 2 === 0 ? 'gate' : 'tide'))),
    severity: new Uint8Array(events).fill(severity),
    size: new Uint32Array(events).fill(100),
    weight: new Float32Array(events).fill(2),
  };
}

function usesOf(batches: readonly EventBatch[], readers: readonly string[]): ShapeUses {
  const whole: ShapeUses = new Map();
  for (const batch of batches) {
    const uses: ShapeUses = new Map();
    const context = { now: arrival };
    const routed = compilePlan(plan).run(batch, { ...context, random: seededRandom(1) });
    addShapeUses(uses, routed, readers.map(conditionOf), context);
    mergeShapeUses(whole, uses, (id) => (id === 'old' ? 'gate' : id));
  }
  return whole;
}

const facts = (wanted: readonly string[] = []) => ({
  factsOf: (id: string) => ({ id, skeleton: [id], sample: id, wanted: wanted.includes(id) }),
  prices: undefined,
});

const metric = (name: string, condition: string) => ({ kind: 'metric' as const, name, condition });
const question = (condition: string) => ({ kind: 'question' as const, name: condition, condition });
const search = (name: string, condition: string) => ({ kind: 'search' as const, name, condition });

function suggested(
  readers: readonly (Omit<Reader, 'share'> & { readonly condition: string })[],
  { batches = [arrivals(80), arrivals(80)], wanted = [] as readonly string[], recordedDays = 0 } = {},
) {
  const uses = usesOf(
    batches,
    readers.map(({ condition }) => condition),
  );
  return suggestionsOf(uses, { readers, ...facts(wanted), recordedDays });
}

test('lines that a metric has all of and nobody looks for are suggested, with what is kept of them', () => {
  const found = suggested([metric('gates.opened', 'shape = gate'), metric('north', 'port = north')]);
  expect(found).toEqual([
    {
      shape: 'gate',
      pieces: expect.any(Array),
      sources: ['gates'],
      // What is excluded saves nothing more: of 160 events that stand for two, 80 are gates, a quarter of them in the west.
      saved: { events: 120, bytes: 12_000 },
      tiers: ['rest', 'long'],
      share: 0.5,
      coins: 0,
      metrics: ['gates.opened'],
    },
  ]);
});

test('lines that a saved search is about, if only about some of them, are left alone', () => {
  const counted = metric('gates.opened', 'shape = gate');
  expect(suggested([counted, search('In the north', 'port = north')])).toEqual([]);
  expect(suggested([counted, search('Tides', 'shape = tide')])).toHaveLength(1);
});

test('lines that a metric counts only some of are left alone', () => {
  expect(suggested([metric('south', 'port = south')])).toEqual([]);
});

test('lines that are wanted, and those that warn of something, are left alone', () => {
  const all = [metric('all', '')];
  expect(suggested(all).map(({ shape }) => shape)).toEqual(['gate', 'tide']);
  expect(suggested(all, { wanted: ['gate'] }).map(({ shape }) => shape)).toEqual(['tide']);
  expect(suggested(all, { batches: [arrivals(80, 13)] })).toEqual([]);
});

test('lines that somebody asked for are left alone', () => {
  const all = [metric('all', '')];
  expect(suggested([...all, question('shape = tide')]).map(({ shape }) => shape)).toEqual(['gate']);
  expect(suggested([...all, question('')])).toEqual([]);
});

test('lines that nothing reads are suggested once usage has been recorded for a week', () => {
  expect(suggested([], { recordedDays: 6.9 })).toEqual([]);
  expect(suggested([], { recordedDays: 7 }).map(({ shape, metrics }) => [shape, metrics])).toEqual([
    ['gate', []],
    ['tide', []],
  ]);
  const north = metric('north', 'port = north shape = gate');
  expect(suggested([north], { recordedDays: 30 }).map(({ shape }) => shape)).toEqual(['tide']);
});

test('nothing is suggested of which anything was read', () => {
  const parts = ['port = north', 'port = west', 'port in (south, west)', 'shape = gate', 'shape = tide', 'north', ''];
  const condition = fc.array(fc.constantFrom(...parts), { maxLength: 3 }).map((some) => some.join(' '));
  const batches = [arrivals(80), arrivals(80)];
  fc.assert(
    fc.property(fc.array(condition, { maxLength: 4 }), (asked) => {
      const read = new Set<string>();
      for (const batch of batches)
        for (const text of asked)
          conditionOf(text)
            .test(batch, { now: arrival })
            .forEach((isRead, row) => {
              if (isRead) read.add(row % 2 === 0 ? 'gate' : 'tide');
            });
      const found = suggested(asked.map(question), { batches, recordedDays: 30 });
      expect(found.filter(({ shape }) => read.has(shape))).toEqual([]);
      expect(found).toHaveLength(2 - read.size);
    }),
  );
});

test('a shape that was merged into another one counts as that one', () => {
  const merged = { ...arrivals(80), shape: textColumn(new Array<string>(80).fill('old')) };
  const [gate] = suggested([metric('gates.opened', 'shape = gate or shape = old')], {
    batches: [arrivals(80), merged],
  });
  expect(gate).toMatchObject({ shape: 'gate', saved: { events: 60 + 120 } });
});

test('events without a shape, and kinds of lines of which hardly anything is kept, are passed over', () => {
  const { shape: _, ...without } = arrivals(80);
  expect(suggested([metric('all', '')], { batches: [without] })).toEqual([]);
  const rare = { ...arrivals(2), shape: textColumn(['rare', 'rare']) };
  const found = suggested([metric('all', '')], { batches: [arrivals(8_000), rare] });
  expect(found.map(({ shape: id }) => id)).toEqual(['gate', 'tide']);
});
