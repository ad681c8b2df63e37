import { describe, expect, test } from 'vitest';
import { packWork } from '#core/consumers/pack-work.ts';
import type { PlanWork } from '#core/consumers/steps.ts';
import { PlanStatistics } from './plan-statistics.ts';

const start = Date.UTC(2026, 10, 24, 9);
const step = { events: 10, failed: 1, timedEvents: 10, milliseconds: 2, weighedEvents: 5, weighedGrowth: -50 };

function reported(revision: number): Uint8Array {
  const work: PlanWork = { revision, steps: new Map([['p/1', { ...step }]]) };
  return new TextEncoder().encode(JSON.stringify(packWork(work)));
}

describe('what the live revision did', () => {
  test('is nothing before it has done something, and adds up then', () => {
    const work = new PlanStatistics();
    expect(work.steps).toBeUndefined();
    work.learn(reported(3), start);
    work.learn(reported(3), start + 1_000);
    expect(work.steps).toMatchObject({ revision: 3, since: start });
    expect(work.steps?.steps['p/1']).toMatchObject({ events: 20, failed: 2, weighedGrowth: -100 });
  });

  test('begins anew with the next revision; groups of the old one that come late do not count', () => {
    const work = new PlanStatistics();
    work.learn(reported(3), start);
    work.learn(reported(4), start + 1_000);
    work.learn(reported(3), start + 2_000);
    expect(work.steps).toMatchObject({ revision: 4, since: start + 1_000, steps: { 'p/1': { events: 10 } } });
  });
});
