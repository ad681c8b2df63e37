import { describe, expect, test } from 'vitest';
import { conditionOf } from '../conditions/condition.ts';
import { eventAt } from '../events/batch.ts';
import { allRows, gather } from '../events/select.ts';
import { stretchOf } from '../events/stretch.ts';
import { compileTier } from '../plan/parts/tiers/compile-tier.ts';
import { routeBatch, seededRandom } from '../routing/route.ts';
import { arrival, batchOf } from '../testing/batch-of.ts';
import { LookShare } from './look-share.ts';
import { ViewAccumulator } from './view-accumulator.ts';

const tiers = [
  compileTier({
    ...{ id: 'rest', title: 'Rest', keep: '7d', when: 'n < 900' },
    exclusions: [{ id: 'noise', title: 'Noise', when: 'n < 500', keep: 'none' }],
  }),
];
const batch = batchOf(
  Array.from({ length: 1_000 }, (_, n) => ({ n, msg: n % 2 ? `pier ${n}` : '', level: n % 10 ? 'info' : 'warn' })),
);
const routed = routeBatch({ batch, read: batch, fates: new Uint16Array(batch.rows), exits: [] }, tiers, {
  now: arrival,
  random: seededRandom(3),
});

function reported(condition: string, from = 0, to = batch.rows, standsFor = 1) {
  const accumulator = new ViewAccumulator(7, conditionOf(condition), 25, seededRandom(5));
  accumulator.add(routed, stretchOf(routed.arrived, from, to), from, standsFor, { now: arrival });
  return accumulator.delta();
}

describe('what a group tells a view', () => {
  test('is all that fits, by severity, with some of its lines and where they went', () => {
    const all = reported('');
    expect(all).toMatchObject({ view: 7, matched: 1_000, severities: [0, 0, 0, 900, 100, 0, 0] });
    expect(all?.lines).toHaveLength(25);
    for (const { text, outcome, tier, rule } of all?.lines ?? []) {
      const n = Number(/\d+/.exec(text)?.[0]);
      const went = n < 500 ? ['excluded', 'rest', 'noise'] : n < 900 ? ['kept', 'rest', ''] : ['passing', '', ''];
      expect([outcome, tier, rule]).toEqual(went);
    }
    expect(reported('n = 3')?.lines[0]?.text).toBe('pier 3');
    expect(reported('n = 4')?.lines[0]?.text).toBe('n=4');
    expect(reported('n = -1')).toBeUndefined();
  });

  test('of a share stands for all, and names where the rows of that share went', () => {
    const some = reported('', 400, 600, 5);
    expect(some?.matched).toBe(1_000);
    for (const { text, outcome } of some?.lines ?? [])
      expect(outcome).toBe(Number(/\d+/.exec(text)?.[0]) < 500 ? 'excluded' : 'kept');
  });

  test('is asked of each tier where the condition names tiers', () => {
    expect(reported('tier = rest')?.matched).toBe(400);
    expect(reported('tier = passing')?.matched).toBe(600);
    expect(reported('tier = rest or n = 7', 0, 100)?.matched).toBe(1);
  });
});

test('a stretch of a batch has the same events, over the same memory', () => {
  const stretch = stretchOf(batch, 300, 420);
  expect(stretch.rows).toBe(120);
  const copy = gather('test', [{ batch, rows: allRows(batch).subarray(300, 420) }]);
  for (const row of [0, 1, 77, 119]) expect(eventAt(stretch, row)).toEqual(eventAt(copy, row));
  expect(stretch.time.buffer).toBe(batch.time.buffer);
  expect(stretchOf(batch, 0, batch.rows)).toBe(batch);
});

describe('the share that is looked at', () => {
  test('falls when looking takes too much of a busy thread’s time, and grows again', () => {
    const share = new LookShare();
    share.settle(50, 0);
    expect(share.current).toBe(1);
    // Once is no sign that too much comes; it is used up then.
    share.settle(50, 100);
    expect(share.current).toBe(1);
    share.settle(50, 200);
    expect(share.current).toBeCloseTo(0.2);
    share.settle(0.5, 300);
    expect(share.current).toBeCloseTo(0.25);
    for (let at = 400; at < 5_000; at += 100) share.settle(0, at);
    expect(share.current).toBe(1);
  });

  test('stays whole where a thread mostly rests, however small its groups are', () => {
    const share = new LookShare();
    for (let at = 0; at < 5_000; at += 500) share.settle(2, at);
    expect(share.current).toBe(1);
  });

  test('takes no more than its part of a busy thread’s time in the long run', () => {
    const share = new LookShare();
    let looking = 0;
    for (let at = 0; at < 60_000; at += 20) {
      // All of it would take half of the time.
      const took = 10 * share.current;
      share.settle(took, at);
      looking += took;
    }
    expect(looking).toBeLessThan(0.015 * 60_000 + 200);
  });

  test('has as many lines sent as are shown, however often groups come', () => {
    const share = new LookShare();
    expect(share.linesAt(0)).toBe(25);
    let reported = 0;
    for (let at = 0; at < 1_000; at += 50) {
      share.settle(0, at);
      reported += share.linesAt(at + 50);
    }
    expect(reported).toBe(100);
    share.settle(0, 1_000);
    expect(share.linesAt(1_001)).toBe(2);
    expect(share.linesAt(9_000)).toBe(25);
  });
});
