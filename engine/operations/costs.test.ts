import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import type { CostMonthAnswer, CostsAnswer, PricesAnswer, RetentionCostAnswer } from '#core/answers/costs.ts';
import type { CourseAnswer } from '#core/answers/overview.ts';
import type { VolumeAnswer } from '#core/answers/search.ts';
import { costKeys } from '#core/costs/cost-keys.ts';
import { send, startEngine, type TestEngine } from '../testing/engine.ts';

let engine: TestEngine;

const book = (received: number): string => `
prices: 1
currency: { sign: cr, digits: 2 }
entries:
  - from: 2020-01-01
    received: ${received}
    kept: [{ days: 7, price: 400000 }]
    own: [{ tier: doors, received: ${2 * received} }]
budgets: [{ amount: 1 }]
`;

beforeAll(async () => {
  engine = await startEngine(inject('mariadb'));
  await engine.source('gates');
  await engine.source('tides');
  await engine.publish({
    plan: 1,
    pipelines: [],
    tiers: [
      { id: 'doors', title: 'Doors', when: 'source = gates', keep: '7d' },
      {
        id: 'rest',
        title: 'Rest',
        keep: '7d',
        exclusions: [{ id: 'low', title: 'Low', when: '"low"', keep: 'none' }],
      },
    ],
  });
  await send(engine, 'gates', Array.from({ length: 40 }, (_, i) => `gate ${i} opened\n`).join(''));
  await send(engine, 'tides', Array.from({ length: 30 }, (_, i) => `tide ${i} ${i % 3 ? 'high' : 'low'}\n`).join(''));
  await engine.found({ condition: '', limit: 0 }, 70);
});

afterAll(() => engine.stop());

test('without a price book nothing has a price, and that is told', async () => {
  expect(await engine.ask<CostsAnswer>('costs')).toMatchObject({ currency: null, rows: [] });
  expect(await engine.ask<CostMonthAnswer>('costMonth')).toMatchObject({ currency: null, end: null });
  expect(await engine.ask<PricesAnswer>('prices')).toEqual({ text: null, savedAt: null, shown: true });
  expect((await engine.ask<CourseAnswer>('course')).month).toBeNull();
});

test('a wrong book is refused with all its faults and their lines, and the one before stays', async () => {
  const wrong =
    'prices: 1\ncurrency: { sign: cr }\nentries:\n  - from: 2026-13-01\n    received: -1\n    own: []\nbudgets:\n  - { amount: 5, teem: sea }';
  const refusal = await engine.ask('savePrices', { text: wrong }).then(String, String);
  expect(refusal).toContain('"line":4');
  expect(refusal).toContain('"line":5');
  expect(refusal).toContain('"line":8');
  await expect(engine.ask('savePrices', { text: `${book(1)}\n  - { amount: 2, team: nobody }` })).rejects.toThrow();
  await expect(engine.ask('tryPrices', { text: '[' })).rejects.toThrow();
  expect((await engine.ask<PricesAnswer>('prices')).text).toBeNull();
});

test('costs are those of ledger and prices, whatever they are told by; a new book counts at once', async () => {
  const { sums } = await engine.ask<VolumeAnswer>('volume', { by: 'source,outcome' });
  const bytes = (source: string): number =>
    sums.filter((sum) => sum.source === source).reduce((sum, row) => sum + row.bytes, 0);
  const kept = sums.filter(({ outcome }) => outcome === 'kept').reduce((sum, { events }) => sum + events, 0);
  expect(kept).toBe(60);
  // Own rates are of what a tier took: what was excluded lies in passing.
  for (const price of [3e6, 1e6]) {
    const trial = await engine.ask<CostMonthAnswer>('tryPrices', { text: book(price) });
    await engine.ask('savePrices', { text: book(price) });
    const received = ((bytes('gates') * 2 + bytes('tides')) * price) / 1e9;
    const coins = Math.round(100 * (received + (kept * 400_000) / 1e6));
    for (const by of [...costKeys, 'team,shape', 'tier,severity']) {
      const { all, rows, steps } = await engine.ask<CostsAnswer>('costs', { by, every: 'day' });
      expect(all.whole).toBe(coins);
      expect(all.received + all.kept + all.stored).toBe(all.whole);
      expect(rows.reduce((sum, { whole }) => sum + whole, 0)).toBe(all.whole);
      for (const row of rows) {
        expect(row.keys.length).toBe(by.split(',').length);
        expect(row.received + row.kept + row.stored).toBe(row.whole);
        expect(row.steps.length).toBe(steps.length);
        expect(row.steps.reduce((sum, coins) => sum + coins, 0)).toBe(row.whole);
      }
    }
    const month = await engine.ask<CostMonthAnswer>('costMonth');
    expect(month.spent).toBe(coins);
    expect(month.days.reduce((sum, count) => sum + count, 0)).toBe(coins);
    expect(month.end).toBeNull();
    expect(month.budgets).toMatchObject([{ amount: 100, spent: coins, heading: null }]);
    expect(month.budgets[0]?.crossedOn).toBe(new Date().toISOString().slice(0, 10));
    expect(trial).toEqual(month);
    expect((await engine.ask<CourseAnswer>('course')).month).toMatchObject({ coins });
  }
  expect((await engine.ask<PricesAnswer>('prices')).text).toContain('sign: cr');
});

test('shapes are told by a line of theirs, two keys by both, and what is no key is refused', async () => {
  const { rows } = await engine.ask<CostsAnswer>('costs', { by: 'source,shape' });
  expect(rows.find(({ keys }) => keys[0] === 'gates')?.line).toMatch(/^gate \d+ opened$/);
  expect(new Set(rows.map(({ keys }) => keys[0]))).toEqual(new Set(['gates', 'tides']));
  await expect(engine.ask('costs', { by: 'source,shape,tier' })).rejects.toThrow('two with a comma');
  await expect(engine.ask('costs', { by: 'nonsense' })).rejects.toThrow();
  await expect(engine.ask('costs', { every: 'hour' })).rejects.toThrow();
});

test('money is turned off in all answers, and on again; what it is reckoned by stays', async () => {
  const before = await engine.ask<CostsAnswer>('costs');
  expect(before.currency).not.toBeNull();
  await engine.ask('showPrices', { shown: false });
  expect(await engine.ask<CostsAnswer>('costs')).toMatchObject({ currency: null, rows: [] });
  expect((await engine.ask<CostMonthAnswer>('costMonth')).currency).toBeNull();
  expect((await engine.ask<CourseAnswer>('course')).month).toBeNull();
  const retention = { tier: 'rest', keep: '3d' };
  expect(await engine.ask<RetentionCostAnswer>('retentionCost', retention)).toMatchObject({ currency: null });
  const { text, shown } = await engine.ask<PricesAnswer>('prices');
  expect([shown, text]).toEqual([false, expect.stringContaining('shown: false')]);
  await engine.ask('showPrices', { shown: true });
  expect(await engine.ask<CostsAnswer>('costs')).toEqual(before);
  // Of less than a week nothing is told.
  expect(await engine.ask<RetentionCostAnswer>('retentionCost', retention)).toMatchObject({
    ...{ currency: { sign: 'cr' }, settledOn: null },
  });
  await expect(engine.ask('retentionCost', { tier: 'rest', keep: 'long' })).rejects.toThrow('a duration');
});

test('a window that is none is refused', async () => {
  await expect(engine.ask('costs', { from: '2026-02-01', to: '2026-01-01' })).rejects.toThrow('before it begins');
  await expect(engine.ask('costs', { from: '2020-01-01', to: '2026-01-01' })).rejects.toThrow('at most 400 days');
  await expect(engine.ask('costs', { from: '2020-99-99', to: '2026-01-01' })).rejects.toThrow();
});
