import { expect, test } from 'vitest';
import { compilePlan } from '../plan/compile.ts';
import type { TierDocument } from '../plan/parts/tiers/tiers-shape.ts';
import { arrival, batchOf } from '../testing/batch-of.ts';
import { addShadows, mergeShadows, type Shadows } from './shadows.ts';

const tiers: readonly TierDocument[] = [
  {
    id: 'low',
    title: 'Low',
    keep: '1d',
    when: 'n < 3',
    exclusions: [{ id: 'x', title: 'X', when: 'n = 0', keep: 'none' }],
  },
  { id: 'even', title: 'Even', keep: '1d', when: 'n in (0, 2, 4, 6)' },
  { id: 'two', title: 'Two', keep: '1d', when: 'n = 2' },
  { id: 'rest', title: 'Rest', keep: '1d' },
];

function shadowsOf(order: readonly TierDocument[]): Shadows {
  const plan = compilePlan({ plan: 1, pipelines: [], tiers: order });
  const shadows: Shadows = new Map();
  addShadows(shadows, plan, batchOf(Array.from({ length: 8 }, (_, n) => ({ n }))), { now: arrival });
  return shadows;
}

const reported = (shadows: Shadows) =>
  [...shadows].map(([tier, { matched, above }]) => [
    tier,
    matched.events,
    Object.fromEntries([...above].map(([id, { events }]) => [id, events])),
  ]);

test('what a tier matches comes with the tiers above that take it, excluded or not', () => {
  expect(reported(shadowsOf(tiers))).toEqual([
    ['low', 3, {}],
    ['even', 4, { low: 2 }],
    ['two', 1, { low: 1 }],
    ['rest', 8, { low: 3, even: 2 }],
  ]);
});

test('another order has other shadows, and parts of the tape add up', () => {
  const [low, even, two, rest] = tiers as [TierDocument, TierDocument, TierDocument, TierDocument];
  const shadows = shadowsOf([two, even, low, rest]);
  expect(reported(shadows).slice(0, 3)).toEqual([
    ['two', 1, {}],
    ['even', 4, { two: 1 }],
    ['low', 3, { even: 1, two: 1 }],
  ]);
  mergeShadows(shadows, shadowsOf([two, even, low, rest]));
  expect(shadows.get('even')?.matched.events).toBe(8);
  expect(shadows.get('even')?.above.get('two')?.events).toBe(2);
});
