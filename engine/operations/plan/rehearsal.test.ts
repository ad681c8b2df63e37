import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import type { CostMonthAnswer } from '#core/answers/costs.ts';
import type { Attention } from '#core/answers/overview.ts';
import type { RevisionsAnswer, RevisionTimelineAnswer } from '#core/answers/plan.ts';
import { day, hour } from '#core/events/time-units.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { RehearsalAnswer } from '#core/rehearsal/rehearsal-answer.ts';
import { revisions } from '#store/plan/schema.ts';
import { send, startEngine, type TestEngine } from '../../testing/engine.ts';

let engine: TestEngine;

const live: PlanDocument = { plan: 1, pipelines: [], tiers: [{ id: 'rest', title: 'Rest', keep: '30d' }] };
const draft: PlanDocument = {
  ...live,
  tiers: [
    {
      ...{ id: 'rest', title: 'Rest', keep: '30d' },
      exclusions: [{ id: 'low', title: 'Low', when: 'water = low', keep: 'none' }],
    },
  ],
};
const today = Math.floor(Date.now() / day) * day;
/** On each of fourteen days twice as many lines as tides on the last one, an hour in the middle of the day; half of them low. */
const perDay = 200;

function tide(i: number, time: number): string {
  const water = i % 2 === 0 ? 'low' : 'high';
  return JSON.stringify({ time: new Date(time).toISOString(), water, msg: `tide ${i} is ${water}` });
}

beforeAll(async () => {
  engine = await startEngine(inject('mariadb'));
  await engine.source('tides');
  await engine.publish(live);
  for (let back = 14; back >= 1; back--) {
    const from = today - back * day + 12 * hour;
    const lines = Array.from({ length: perDay }, (_, i) => tide(i, from + i * 1_000));
    await send(engine, 'tides', lines.join('\n'), { 'otter-backfill': new Date(from).toISOString() });
  }
  const now = Date.now();
  await send(engine, 'tides', Array.from({ length: 60 }, (_, i) => tide(i, now)).join('\n'));
  await engine.found({ condition: '', limit: 0 }, 14 * perDay + 60);
});

afterAll(() => engine.stop());

const rehearse = (span: string): Promise<RehearsalAnswer> => engine.ask<RehearsalAnswer>('rehearseDraft', { span });

test('the span says whose volumes they are: those of the last hours, or the mean of days that are over', async () => {
  await engine.saveDraft(draft);
  const hours = await rehearse('1h');
  expect(hours).toMatchObject({ span: 0, kept: { live: { events: 60 }, draft: { events: 30 } } });
  const days = await rehearse('14d');
  expect(days).toMatchObject({ span: 14, days: 14 });
  expect(days.kept.live.events).toBeCloseTo(perDay);
  expect(days.kept.draft.events).toBeCloseTo(perDay / 2);
  const [source] = days.sources;
  expect(source?.draft.events).toBeCloseTo(perDay / 2);
  // Each of the days brought as much: nothing varies.
  expect(days.kept.bands.draft).toBeLessThan(0.01 * days.kept.draft.bytes);
});

test.each(['', 'soon', '5m', '15d', '7'])('a span of %j is refused in words', async (span) => {
  await expect(rehearse(span)).rejects.toThrow(/duration/i);
});

test('saved searches that find fewer events are told, and some of the events', async () => {
  for (const water of ['low', 'high'])
    await engine.ask('saveSearch', { name: `${water}-water`, condition: `water = ${water}`, window: '-1d' });
  await engine.saveDraft(draft);
  const { readers, changed } = await rehearse('24h');
  expect(readers.find(({ name }) => name === 'low-water')).toMatchObject({ kind: 'search', draft: 0 });
  expect(readers.some(({ name }) => name === 'high-water')).toBe(false);
  expect(changed[0]).toMatchObject({ live: { outcome: 'kept' }, draft: { outcome: 'excluded', rule: 'low' } });
});

const book = (budgets: string): string =>
  `prices: 1\ncurrency: { sign: cr, digits: 2 }\nentries: [{ from: 2020-01-01, received: 0, kept: [{ days: 3650, price: 400000 }] }]\n${budgets}`;

test('a surge adds to the store, to what both plans cost, and to the budgets of the month', async () => {
  await engine.ask('savePrices', { text: book('budgets: [{ amount: 900 }, { amount: 700, tier: rest }]') });
  await engine.saveDraft(draft);
  const surge = { condition: 'source = tides', times: 3, from: '00:00', length: '24h' };
  const { money, surge: added, kept } = await engine.ask<RehearsalAnswer>('rehearseDraft', { span: '24h', surge });
  expect(added?.arrives).toBeCloseTo(2 * kept.live.bytes, -1);
  expect(added?.store.live).toBeGreaterThan(0);
  expect(added?.store.draft).toBeLessThan(added?.arrives ?? 0);
  // The disk of a store that may be elsewhere is not known.
  expect(added?.store.free).toBeNull();
  // Forty coins an event; the surge adds each of the day's events twice more.
  expect(money?.surge?.live).toBeCloseTo(40 * 2 * kept.live.events, -1);
  expect(money?.surge?.draft).toBeCloseTo(40 * 2 * kept.draft.events, -1);
  const month = await engine.ask<CostMonthAnswer>('costMonth');
  const { live = 0, budgets = [] } = money?.surge ?? {};
  const known = month.budgets.filter(({ heading }) => heading !== null);
  expect(budgets.map(({ tier, amount, heading, live: after }) => [tier, amount, after - heading])).toEqual(
    known.map(({ tier, amount }) => [tier, amount, live]),
  );
});

test('tests of pipelines that the draft fails are told', async () => {
  const pipelines = [
    {
      ...{ id: 'tides', title: 'Tides', when: 'source = tides' },
      steps: [{ rename: { from: 'water', to: 'level' } }],
      tests: [
        { name: 'low', input: '{"water":"low"}', expect: { level: 'low' } },
        { name: 'kept', input: '{"water":"low"}', expect: { water: 'low' } },
      ],
    },
  ];
  await engine.saveDraft({ ...draft, pipelines });
  const { failedTests, fields } = await rehearse('24h');
  expect(failedTests).toEqual([
    { path: 'pipelines[0].tests[1]', message: 'test “kept” of “Tides” fails: water is absent, expected "low"' },
  ]);
  expect(fields.map(({ name }) => name).sort()).toEqual(['level', 'water']);
});

test('a revision is followed hour by hour, and an hour outside of the band needs someone', async () => {
  await engine.ask('savePrices', { text: book('') });
  await engine.saveDraft(draft);
  await rehearse('24h');
  const { revision } = await engine.ask<{ readonly revision: number }>('publishDraft', { note: 'low water goes' });
  expect(await engine.ask<RevisionTimelineAnswer>('revisionTimeline', { number: revision })).toMatchObject({
    every: null,
  });
  // As if it had been published half a day ago; of an hour since then more is kept than of the day that was rehearsed.
  await engine.database.db.update(revisions).set({ publishedAt: Date.now() - 12 * hour });
  const now = Math.floor(Date.now() / hour) * hour;
  for (const from of [now - hour, now]) {
    const high = Array.from({ length: 2_000 }, (_, i) => tide(2 * i + 1, from + i));
    await send(engine, 'tides', high.join('\n'), { 'otter-backfill': new Date(from).toISOString() });
  }
  const { every, rows } = await engine.ask<RevisionTimelineAnswer>('revisionTimeline', { number: revision });
  expect(every).toBe(hour);
  const [all] = rows;
  expect(all?.kind).toBe('all');
  const point = all?.points.find(({ start }) => start === now - hour);
  expect((point?.predicted ?? 0) / (point?.measured ?? 1)).toBeCloseTo(0.5, 1);
  const low = rows.find(({ kind, line }) => kind === 'shape' && line.endsWith('low'));
  expect(low?.points.every(({ predicted }) => predicted === 0)).toBe(true);
  const { revisions: listed } = await engine.ask<RevisionsAnswer>('revisions');
  const followed = listed.find(({ number }) => number === revision);
  const promised = followed?.promised?.coins ?? 0;
  expect(promised).toBeGreaterThan(0);
  const sum = (of: 'days' | 'saved' | 'promised'): number =>
    (followed?.months ?? []).reduce((all, month) => all + (month[of] ?? 0), 0);
  expect(sum('days')).toBeCloseTo(0.5, 2);
  expect(sum('saved')).toBe(followed?.saved);
  expect(Math.abs(sum('promised') - (promised * 0.5) / 30)).toBeLessThanOrEqual(promised / 1_000 + 2);
  await expect(engine.ask('revisionTimeline', { number: 99 })).rejects.toThrow(/99/);
  const { attention } = await engine.ask<{ readonly attention: readonly Attention[] }>('overview');
  expect(attention).toContainEqual(expect.objectContaining({ kind: 'prediction-missed', revision }));
});
