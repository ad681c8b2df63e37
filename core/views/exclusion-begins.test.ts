import { expect, test } from 'vitest';
import type { PlanDocument } from '../plan/document.ts';
import type { ExclusionDocument } from '../plan/parts/tiers/tiers-shape.ts';
import { exclusionBegins } from './exclusion-begins.ts';

function planOf(...exclusions: readonly ExclusionDocument[]): PlanDocument {
  return { plan: 1, pipelines: [], tiers: [{ id: 'rest', title: 'Rest', keep: '7d', exclusions }] };
}

const probes = { id: 'probes', title: 'Probes', when: 'path = /health*', keep: 'none' };
const debug = { id: 'debug', title: 'Debug', when: 'severity <= debug', keep: 'none' };

test('an exclusion begins when it is added or changed, but not when it is renamed', () => {
  const begins = exclusionBegins([
    { plan: planOf(probes), publishedAt: 1_000 },
    { plan: planOf({ ...probes, title: 'Health probes', reason: 'noise' }, debug), publishedAt: 2_000 },
    { plan: planOf(probes, { ...debug, keep: '1 in 10' }), publishedAt: 3_000 },
  ]);
  expect(begins).toEqual(new Map(Object.entries({ 'rest/probes': 1_000, 'rest/debug': 3_000 })));
});

test('an exclusion that was removed and added again begins anew', () => {
  const plans = [planOf(probes), planOf(), planOf(probes)];
  expect(exclusionBegins(plans.map((plan, i) => ({ plan, publishedAt: i }))).get('rest/probes')).toBe(2);
});
