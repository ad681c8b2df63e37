import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import type { CostMonthAnswer, CostsAnswer, PricesAnswer, RetentionCostAnswer } from '#core/answers/costs.ts';
import type { OverviewAnswer, StageFiguresAnswer } from '#core/answers/overview.ts';
import type { DraftAnswer, PlanAnswer, RevisionsAnswer } from '#core/answers/plan.ts';
import type { RoutingAnswer } from '#core/answers/routing.ts';
import type { CatalogueAnswer, VolumeAnswer } from '#core/answers/search.ts';
import type { ShapesAnswer } from '#core/answers/shapes.ts';
import { costKeys } from '#core/costs/cost-keys.ts';
import type { RehearsalAnswer } from '#core/rehearsal/rehearsal-answer.ts';
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

const gateLines = Array.from({ length: 40 }, (_, i) => `gate ${i} opened\n`).join('');
const tideLines = Array.from({ length: 30 }, (_, i) => `tide ${i} ${i % 3 ? 'high' : 'low'}\n`).join('');

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
  await send(engine, 'gates', gateLines);
  await send(engine, 'tides', tideLines);
  await engine.found({ condition: '', limit: 0 }, 70);
});

afterAll(() => engine.stop());

test('without a price book nothing has a price, and the answer says so', async () => {
  expect(await engine.ask<CostsAnswer>('costs')).toMatchObject({ currency: null, rows: [] });
  expect(await engine.ask<CostMonthAnswer>('costMonth')).toMatchObject({ currency: null, end: null });
  expect(await engine.ask<PricesAnswer>('prices')).toEqual({
    ...{ text: null, savedAt: null, shown: true, history: [] },
  });
  expect((await engine.ask<StageFiguresAnswer>('stageFigures')).month).toBeNull();
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

test('costs are those of ledger and prices, whatever they are split by; a new book counts at once', async () => {
  const { sums } = await engine.ask<VolumeAnswer>('volume', { by: 'source,outcome' });
  const bytes = (source: string): number =>
    sums.filter((sum) => sum.source === source).reduce((sum, row) => sum + row.bytes, 0);
  const kept = sums.filter(({ outcome }) => outcome === 'kept').reduce((sum, { events }) => sum + events, 0);
  expect(kept).toBe(60);
  // Own rates are of what a tier took: what was excluded is in passing.
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
    expect((await engine.ask<StageFiguresAnswer>('stageFigures')).month).toMatchObject({ coins });
  }
  const { text, savedAt } = await engine.ask<PricesAnswer>('prices');
  expect(text).toContain('sign: cr');
  // Who began with a book that is not there any more would undo what another one wrote.
  const late = engine.ask('savePrices', { text: book(7), basedOn: (savedAt ?? 0) - 1 });
  await expect(late).rejects.toThrow('saved meanwhile');
  expect((await engine.ask<PricesAnswer>('prices')).savedAt).toBe(savedAt);
  await engine.ask('savePrices', { text: book(1e6), basedOn: savedAt });
});

test('shapes are known by a line of theirs, two keys by both, and what is no key is refused', async () => {
  const ask = () => engine.ask<CostsAnswer>('costs', { by: 'source,shape' });
  const lineOf = async () => (await ask()).rows.find(({ keys }) => keys[0] === 'gates')?.line;
  // Shapes are decided about a moment after their events came.
  await expect.poll(lineOf, { timeout: 20_000 }).toMatch(/^gate \d+ opened$/);
  const { rows } = await ask();
  expect(new Set(rows.map(({ keys }) => keys[0]))).toEqual(new Set(['gates', 'tides']));
  await expect(engine.ask('costs', { by: 'source,shape,tier' })).rejects.toThrow('two with a comma');
  await expect(engine.ask('costs', { by: 'nonsense' })).rejects.toThrow();
  await expect(engine.ask('costs', { every: 'hour' })).rejects.toThrow();
});

test('beside every volume stands what it costs until it is gone, and all of them agree', async () => {
  const lying = `${book(1e6)}`.replace('    own:', '    stored: 5e7\n    own:');
  await engine.ask('savePrices', { text: lying });
  const { sums } = await engine.ask<VolumeAnswer>('volume', { by: 'source,outcome,tier' });
  const cost = ({ outcome = '', tier = '', events, bytes, stored }: VolumeAnswer['sums'][number]): number => {
    const isKept = outcome === 'kept';
    const received = (bytes * (tier === 'doors' ? 2e6 : 1e6)) / 1e9;
    const days = isKept ? 7 : 1 / 24;
    return 100 * (received + (isKept ? (events * 400_000) / 1e6 : 0) + (((stored * 5e7) / 1e9) * days) / 30);
  };
  const all = sums.reduce((sum, row) => sum + cost(row), 0);
  const { flow, slices, currency } = await engine.ask<OverviewAnswer>('overview');
  expect(currency).toEqual({ sign: 'cr', digits: 2 });
  const coinsOf = (parts: readonly { readonly coins: number }[]): number =>
    parts.reduce((sum, part) => sum + part.coins, 0);
  const sources = flow.nodes.filter(({ kind }) => kind === 'source');
  expect(Math.abs(coinsOf(sources) - all)).toBeLessThan(1);
  for (const { title, coins } of sources) {
    const plain = sums.filter(({ source }) => source === title).reduce((sum, row) => sum + cost(row), 0);
    expect(Math.abs(coins - plain)).toBeLessThan(1);
  }
  expect(coinsOf(flow.nodes.filter(({ kind }) => kind === 'tier' || kind === 'excluded'))).toBe(coinsOf(sources));
  expect(coinsOf(slices.flatMap(({ places }) => Object.values(places)))).toBe(coinsOf(sources));

  // What is stored is known by source and tier alone: of shapes it is as large a part as they are of the bytes.
  const shapes = await engine.ask<ShapesAnswer>('shapes', { condition: '', from: '-1d', to: 'now' });
  expect(Math.abs(shapes.total.coins - coinsOf(sources))).toBeLessThan(2);
  expect(coinsOf(shapes.shapes) + shapes.rest.coins).toBe(shapes.total.coins);

  // Ten low tides are not kept: that they are is what it would cost.
  const routing = await engine.ask<RoutingAnswer>('routing');
  const [low] = routing.tiers.find(({ id }) => id === 'rest')?.exclusions ?? [];
  const stored = sums.filter(({ source }) => source === 'tides').reduce((sum, row) => sum + row.stored, 0);
  const bytes = sums.filter(({ source }) => source === 'tides').reduce((sum, row) => sum + row.bytes, 0);
  const room = (100 * (((low?.removed.bytes ?? 0) * stored) / bytes) * 5e7 * (7 - 1 / 24)) / 1e9 / 30;
  expect(low?.removed.events).toBe(10);
  expect(low?.saves).toBe(low?.wouldSave);
  // It was published by this test, so its figures cover less than a day.
  expect(Date.now() - (low?.since ?? 0)).toBeLessThan(600_000);
  const saves = 30 * (100 * 10 * 0.4 + room);
  expect(Math.abs((low?.saves ?? 0) / saves - 1)).toBeLessThan(0.2);

  const fields = await engine.ask<CatalogueAnswer>('catalogue');
  expect(fields.currency).not.toBeNull();
  const byField = await engine.ask<CostsAnswer>('costs', { by: 'field' });
  expect(byField.rows.reduce((sum, { whole }) => sum + whole, 0)).toBe(byField.all.whole);
  await engine.ask('savePrices', { text: book(1e6) });
});

test('a rehearsal tells what a month costs with the draft, and what a revision saved is measured', async () => {
  const { plan } = await engine.ask<PlanAnswer>('plan');
  const [doors, rest] = plan.tiers;
  if (!doors || !rest) throw new Error('there are two tiers');
  await engine.saveDraft({
    ...plan,
    tiers: [{ ...doors, exclusions: [{ id: 'g', title: 'Gates', when: '"gate"', keep: 'none' }] }, rest],
  });
  const { money, ...found } = await engine.ask<RehearsalAnswer>('rehearseDraft');
  expect(found).not.toHaveProperty('flows');
  // Forty events a day that are not kept any more, at 0.4 each; their second rate is for what a tier has.
  expect(money?.live).toBe(Math.round(30 * 100 * (60 * 0.4 + (arrived('gates') * 2 + arrived('tides')) / 1e3)));
  expect((money?.draft ?? 0) - (money?.live ?? 0)).toBe(-Math.round(30 * 100 * (40 * 0.4 + arrived('gates') / 1e3)));
  expect(money?.rules).toContainEqual({ id: 'doors/g', live: 0, draft: expect.any(Number) });
  expect((await engine.ask<DraftAnswer | null>('draft'))?.rehearsal?.money).toEqual(money);
  await engine.ask('publishDraft', { note: 'no gates', letGo: [] });
  const { revisions, currency } = await engine.ask<RevisionsAnswer>('revisions');
  expect([currency?.sign, revisions[0]?.note, revisions[0]?.saved]).toEqual(['cr', 'no gates', null]);
});

/** Bytes that arrived from a source. */
function arrived(source: 'gates' | 'tides'): number {
  return source === 'gates' ? gateLines.length - 40 : tideLines.length - 30;
}

test('a month before, and one team’s, have figures of their own; one that has not come is refused', async () => {
  expect(await engine.ask<CostMonthAnswer>('costMonth', { month: '2026-01' })).toMatchObject({
    ...{ isOver: true, spent: 0, end: null, toCome: [] },
  });
  const { spent } = await engine.ask<CostMonthAnswer>('costMonth');
  const ofNobody = await engine.ask<CostMonthAnswer>('costMonth', { team: 'nobody' });
  expect([spent > 0, ofNobody.spent, ofNobody.budgets]).toEqual([true, 0, []]);
  expect((await engine.ask<CostsAnswer>('costs', { team: 'nobody' })).rows).toEqual([]);
  await expect(engine.ask('costMonth', { month: '2999-01' })).rejects.toThrow('in the future');
  await expect(engine.ask('costMonth', { month: '2026-13' })).rejects.toThrow();
  const thisMonth = new Date().toISOString().slice(0, 7);
  const { changes } = await engine.ask<CostMonthAnswer>('costMonth', { month: thisMonth });
  expect(changes.map(({ text }) => text)).toContain('no gates');
  const { history } = await engine.ask<PricesAnswer>('prices');
  expect(history.length).toBeGreaterThan(1);
  expect(history[0]?.text).toContain('stored: 50000000');
});

test('money is turned off in all answers, and on again; what it is reckoned by stays', async () => {
  const before = await engine.ask<CostsAnswer>('costs');
  expect(before.currency).not.toBeNull();
  await engine.ask('showPrices', { shown: false });
  expect(await engine.ask<CostsAnswer>('costs')).toMatchObject({ currency: null, rows: [] });
  expect((await engine.ask<CostMonthAnswer>('costMonth')).currency).toBeNull();
  expect((await engine.ask<StageFiguresAnswer>('stageFigures')).month).toBeNull();
  const retention = { tier: 'rest', keep: '3d' };
  expect(await engine.ask<RetentionCostAnswer>('retentionCost', retention)).toMatchObject({ currency: null });
  const { text, shown } = await engine.ask<PricesAnswer>('prices');
  expect([shown, text]).toEqual([false, expect.stringContaining('shown: false')]);
  await engine.ask('showPrices', { shown: true });
  expect(await engine.ask<CostsAnswer>('costs')).toEqual(before);
  // Of less than a week nothing is said.
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
