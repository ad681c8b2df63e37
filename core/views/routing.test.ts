import { expect, test } from 'vitest';
import type { PlanDocument } from '../plan/document.ts';
import { routingView } from './routing.ts';

const plan: PlanDocument = {
  plan: 1,
  pipelines: [],
  tiers: [
    { id: 'a', title: 'A', keep: '7d', exclusions: [{ id: 'x', title: 'X', when: 'x', keep: 'none' }] },
    { id: 'b', title: 'B', keep: '7d' },
  ],
};

test('each tier has what it received, what its exclusions removed, and what it holds', () => {
  const sum = (outcome: string, tier: string, rule: string, events: number) => ({
    ...{ start: 0, outcome, tier, rule, events, bytes: events, stored: 0 },
  });
  const sums = [sum('kept', 'a', '', 5), sum('excluded', 'a', 'x', 3), sum('sampled-out', 'a', 'gone', 1)];
  const more = [sum('passing', '', '', 2), sum('discarded', '', 'p/1', 4), sum('rejected', '', 'p/2', 1)];
  const holds = { events: 9, bytes: 90, stored: 20, from: 1, to: 2 };
  const view = routingView(plan, [...sums, ...more], {
    contents: new Map([['a', holds]]),
    due: new Map([['a', { events: 2, bytes: 20 }]]),
  });
  expect([view.arrived.events, view.passing.events, view.rejected.events]).toEqual([16, 2, 5]);
  expect(view.tiers[0]).toMatchObject({ kept: { events: 5 }, removed: { events: 4 }, holds });
  expect(view.tiers[0]?.exclusions).toEqual([
    { id: 'x', matched: expect.anything(), removed: { events: 3, bytes: 3 }, saves: 0, wouldSave: 0, since: null },
  ]);
  expect(view.tiers.map(({ due }) => due.events)).toEqual([2, 0]);
  expect(view.tiers[1]).toMatchObject({ kept: { events: 0 }, holds: null });
});
