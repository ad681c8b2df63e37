import { afterAll, beforeAll, expect, inject, test, vi } from 'vitest';
import type { RetentionCostAnswer } from '#core/answers/costs.ts';
import type { ShapesAnswer } from '#core/answers/shapes.ts';
import type { SuggestionsAnswer } from '#core/answers/suggestions.ts';
import { dayOf } from '#core/costs/month/calendar.ts';
import { day, hour } from '#core/events/time-units.ts';
import { firstPlan } from '#core/plan/document.ts';
import { addUsage } from '#store/people/usage.ts';
import { send, startEngine, type TestEngine } from '../../testing/engine.ts';

let engine: TestEngine;
let shape = '';

const rides = { id: 'rides', name: 'gates.rides', when: 'source = gates', measure: 'count' } as const;
const counted = { ...firstPlan, metrics: [rides] };

beforeAll(async () => {
  engine = await startEngine(inject('mariadb'));
  await engine.source('gates');
  await engine.source('piers');
  const lines = (words: string): string => Array.from({ length: 300 }, (_, i) => `${words} ${i} done`).join('\n');
  await send(engine, 'gates', lines('ticket'));
  await send(engine, 'piers', lines('berth'));
  // Shapes are decided about a moment after their first lines.
  const isDecided = async (): Promise<boolean> => {
    const { shapes } = await engine.ask<ShapesAnswer>('shapes');
    shape = shapes.find(({ sources }) => sources[0] === 'gates')?.id ?? '';
    const asked = shapes.map(({ id }) => engine.ask('shape', { id }));
    return shapes.length === 2 && (await Promise.allSettled(asked)).every(({ status }) => status === 'fulfilled');
  };
  await vi.waitUntil(isDecided, { timeout: 20_000 });
  await engine.publish(counted);
});

afterAll(() => engine.stop());

const suggested = async (): Promise<readonly string[]> =>
  (await engine.ask<SuggestionsAnswer>('suggestions')).suggestions.map((one) => one.shape);

test('lines that are only ever counted are suggested, with what keeping none of them saves', async () => {
  const { suggestions, currency } = await engine.ask<SuggestionsAnswer>('suggestions');
  expect(currency).toBeNull();
  expect(suggestions).toHaveLength(1);
  const [{ saved, share, ...suggestion }] = suggestions as [SuggestionsAnswer['suggestions'][number]];
  expect(suggestion).toMatchObject({ shape, sources: ['gates'], metrics: ['gates.rides'], coins: 0 });
  expect(saved.events).toBeCloseTo(300, 5);
  expect(share).toBeGreaterThan(0.4);
  expect(share).toBeLessThan(0.6);
});

test('what is wanted is left alone at once, and suggested again when it is not', async () => {
  await engine.ask('wantShape', { id: shape, wanted: true });
  expect(await suggested()).toEqual([]);
  await engine.ask('wantShape', { id: shape, wanted: false });
  expect(await suggested()).toEqual([shape]);
});

test('a suggestion that was taken is followed from its promise to what it saves', async () => {
  const entry = '{ from: 2020-01-01, received: 0, kept: [{ days: 30, price: 400000 }] }';
  await engine.ask('savePrices', { text: `prices: 1\ncurrency: { sign: cr, digits: 2 }\nentries: [${entry}]` });
  const [suggestion] = (await engine.ask<SuggestionsAnswer>('suggestions')).suggestions;
  expect(suggestion?.coins).toBeGreaterThan(0);
  const taken = async () => (await engine.ask<SuggestionsAnswer>('suggestions')).taken;
  await engine.ask('decideSuggestion', { id: shape, decision: 'take' });
  expect(await taken()).toMatchObject([{ shape, since: null, months: [] }]);
  const [tier] = firstPlan.tiers;
  const exclusions = [{ id: 'rides', title: 'Rides', when: `shape = ${shape}`, keep: 'none' }];
  await engine.publish({ ...counted, tiers: tier ? [{ ...tier, exclusions }] : [] });
  expect(await engine.ask('decideSuggestion', { id: shape, decision: 'take' }).catch(({ message }) => message)).toMatch(
    'not suggested any more',
  );
  await send(engine, 'gates', Array.from({ length: 100 }, (_, i) => `ticket ${i} done`).join('\n'));
  await vi.waitUntil(async () => (await taken())[0]?.since, { timeout: 20_000 });
  const [followed] = await taken();
  // A hundred events at 400,000 a million.
  expect(followed?.months.reduce((sum, { saved }) => sum + saved, 0)).toBe(4_000);
  expect(followed?.months[0]?.promised).not.toBeNull();
  await engine.ask('decideSuggestion', { id: shape, decision: 'reopen' });
  expect(await taken()).toEqual([]);
  await engine.publish(counted);
});

test('a draft that keeps none of the lines has done it, and a search that looks for them keeps them', async () => {
  const [tier] = firstPlan.tiers;
  const exclusions = [{ id: 'rides', title: 'Rides', when: `shape = ${shape}`, keep: 'none' }];
  await engine.saveDraft({ ...counted, tiers: tier ? [{ ...tier, exclusions }] : [] });
  expect(await suggested()).toEqual([]);
  await engine.saveDraft(counted);
  expect(await suggested()).toEqual([shape]);
  await engine.ask('saveSearch', { name: 'rides', condition: 'source = gates "ticket 7 "', window: '-2h' });
  expect(await suggested()).toEqual([]);
});

test('a tier of which nothing old was read may keep less; refused, it is suggested no more', async () => {
  const now = Date.now();
  const entry = '{ from: 2020-01-01, received: 0, kept: [{ days: 1, price: 100000 }, { days: 30, price: 400000 }] }';
  await engine.ask('savePrices', { text: `prices: 1\ncurrency: { sign: cr, digits: 2 }\nentries: [${entry}]` });
  const tier = firstPlan.tiers[0]?.id ?? '';
  await engine.publish({ ...firstPlan, tiers: [{ id: tier, title: 'All', keep: '20d' }] });
  const lines = Array.from({ length: 12 * 24 }, (_, i) => {
    const time = new Date(now - (i + 1) * hour).toISOString();
    return JSON.stringify({ time, message: 'ferry at berth' });
  });
  const headers = { 'otter-backfill': new Date(now - 13 * day).toISOString() };
  expect((await send(engine, 'piers', lines.join('\n'), headers)).status).toBe(200);
  const used = { kind: 'tier', name: tier, reading: 'search', times: 3, lastAt: now, oldestAge: day / 2 } as const;
  await addUsage(engine.database.db, dayOf(now) - 10, { things: [used], questions: [] });
  const changes = async () => (await engine.ask<SuggestionsAnswer>('suggestions')).changes;
  await vi.waitUntil(async () => (await changes()).length > 0, { timeout: 20_000 });
  const [change] = await changes();
  expect(change).toMatchObject({ id: `retention:${tier}`, title: 'Keep All 2 d instead of 20 d' });
  // What the panel of the tier says.
  const { current, changed } = await engine.ask<RetentionCostAnswer>('retentionCost', { tier, keep: '2d' });
  expect(Math.abs((change?.coins ?? 0) - (current.whole - changed.whole))).toBeLessThanOrEqual(2);
  await engine.ask('decideSuggestion', { id: change?.id, decision: 'refuse', reason: 'kept by law' });
  const { decided, changes: left } = await engine.ask<SuggestionsAnswer>('suggestions');
  expect(left).toEqual([]);
  expect(decided).toMatchObject([{ id: `retention:${tier}`, title: change?.title, reason: 'kept by law' }]);
  await expect(engine.ask('decideSuggestion', { id: 'retention:nowhere', decision: 'put off' })).rejects.toThrow(
    /not suggested/,
  );
});
