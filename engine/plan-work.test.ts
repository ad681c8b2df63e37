import { describe, expect, test } from 'vitest';
import { packWork } from '#core/consumers/pack-work.ts';
import type { PlanWork } from '#core/consumers/steps.ts';
import { LiveWork } from './plan-work.ts';

const start = Date.UTC(2026, 10, 24, 9);
const amount = (events: number) => ({ events, bytes: events * 100 });
const step = { events: 10, failed: 1, timedEvents: 10, milliseconds: 2, weighedEvents: 5, weighedGrowth: -50 };

function told(revision: number, arrived: number): Uint8Array {
  const work: PlanWork = {
    revision,
    steps: new Map([['p/1', { ...step }]]),
    arrived: amount(arrived),
    kept: amount(arrived / 2),
    parsed: amount(arrived / 3),
  };
  return new TextEncoder().encode(JSON.stringify(packWork(work)));
}

describe('what the live revision did', () => {
  test('is nothing before it has done something, and adds up then', () => {
    const work = new LiveWork();
    expect([work.effect, work.steps]).toEqual([undefined, undefined]);
    work.learn(told(3, 60), start);
    work.learn(told(3, 120), start + 1_000);
    expect(work.effect).toEqual({
      revision: 3,
      since: start,
      arrived: amount(180),
      kept: amount(90),
      parsed: amount(60),
    });
    expect(work.steps?.steps['p/1']).toMatchObject({ events: 20, failed: 2, weighedGrowth: -100 });
  });

  test('begins anew with the next revision; groups of the old one that come late do not count', () => {
    const work = new LiveWork();
    work.learn(told(3, 60), start);
    work.learn(told(4, 60), start + 1_000);
    work.learn(told(3, 60), start + 2_000);
    expect(work.effect).toMatchObject({ revision: 4, since: start + 1_000, arrived: amount(60) });
    expect(work.steps).toMatchObject({ revision: 4, steps: { 'p/1': { events: 10 } } });
  });
});
