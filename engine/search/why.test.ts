import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import type { SearchAnswer } from '#core/answers/search.ts';
import type { WhyAnswer, WhyRow } from '#core/answers/why.ts';
import { day, hour, minute } from '#core/events/time-units.ts';
import { isWeekend } from '#core/events/weekend.ts';
import { plantedChanges } from '#core/why/testing/planted.ts';
import { type Planted, type Request, requests, weekendPart } from '#core/why/testing/traffic.ts';
import { send, startEngine, type TestEngine } from '../testing/engine.ts';
import { HeaderCache } from './header-cache.ts';
import { JumpMinutes } from './jump-minutes.ts';

/** The end of the traffic: the last 19:07, so that the change begins by day, when there are enough events to tell its minute. */
const now = Math.floor((Date.now() - 19 * hour - 7 * minute) / day) * day + 19 * hour + 7 * minute;
const from = now - 6 * day;
const at = now - 9 * hour;
const plants = plantedChanges(() => at);
/** Evens out weekends, so that the test passes on any day. */
const rate = (time: number): number => (isWeekend(time) ? 1 / weekendPart : 1);
/** What each source sends: more of a pair, failures, a new client for three hours, and steady traffic. */
const sources: Readonly<Record<string, Planted>> = {
  pair: plants[22] as Planted,
  failing: plants[36] as Planted,
  temporary: { ...(plants[8] as Planted), more: (time) => (time >= at && time < at + 3 * hour ? 2 : 0) },
  steady: plants[50] as Planted,
};

let engine: TestEngine;

beforeAll(async () => {
  engine = await startEngine(inject('mariadb'));
  await engine.publish({ plan: 1, pipelines: [], tiers: [{ id: 'rest', title: 'Rest', keep: '30d' }] });
  for (const [index, [source, planted]] of Object.entries(sources).entries()) {
    const more = (time: number): number => rate(time) * (planted.more?.(time) ?? 0);
    await engine.source(source);
    const lines: string[] = [];
    for (const request of requests(index + 1, { from, to: now }, 6, { ...planted, rate, more }))
      lines.push(lineOf(request));
    const headers = { 'otter-backfill': new Date(from).toISOString() };
    for (let start = 0; start < lines.length; start += 10_000)
      expect((await send(engine, source, lines.slice(start, start + 10_000).join('\n'), headers)).status).toBe(200);
  }
});

afterAll(() => engine.stop());

function lineOf({ time, ...fields }: Request): string {
  return JSON.stringify({ time: new Date(time).toISOString(), message: 'request', ...fields });
}

async function why(asked: object): Promise<WhyAnswer> {
  return await engine.ask<WhyAnswer>('why', { from: now - 14 * hour, to: now, ...asked });
}

test('finds a pair of values and the minute it began', async () => {
  const answer = await why({ condition: 'source = pair' });
  expect(answer).toMatchObject({ verdict: 'values', form: 'step', unit: 'count' });
  expect(Math.abs((answer.began ?? 0) - at)).toBeLessThanOrEqual(5 * minute);
  const [row] = answer.rows;
  expect(new Set(row?.where.map(({ field, value }) => `${field} = ${value}`))).toEqual(
    new Set(['tenant = tenant-2', 'version = 4.2']),
  );
  // The condition of a row matches as many events as the row says.
  const asked = { condition: row?.condition ?? '', ...answer.times.since, limit: 0 };
  const found = await engine.ask<{ readonly total: number }>('search', asked);
  expect(row?.since).toBeCloseTo(found.total, 5);
});

test('answers in the order of cost: the ledger, a sample, counts', async () => {
  const asked = { condition: '', from: now - 14 * hour, to: now };
  const answers = await engine.askInLines<WhyAnswer>('why', asked);
  expect(answers.map(({ basis }) => basis)).toEqual(['ledger', 'sample', 'counted']);
  const [ledger, sample, counted] = answers as [WhyAnswer, WhyAnswer, WhyAnswer];
  expect(ledger.rows.map(({ where }) => where[0]?.value).sort()).toEqual(['pair', 'temporary']);
  const [row, estimate] = [counted.rows[0] as WhyRow, sample.rows[0] as WhyRow];
  expect(row.where).toEqual(estimate.where);
  expect(row.band).toBe(0);
  expect(estimate.band).toBeGreaterThan(0);
  expect(Math.abs(row.share - estimate.share)).toBeLessThanOrEqual(2 * estimate.band);
  const found = await engine.ask<{ readonly total: number }>('search', {
    ...{ condition: row.condition, ...counted.times.since, limit: 0 },
  });
  expect(row.since).toBe(found.total);
});

test('what was received is explained by the ledger, with what no tier keeps', async () => {
  const received = await why({ condition: 'source in (pair, steady)', measure: 'received events' });
  expect(received).toMatchObject({ verdict: 'values', form: 'step', basis: 'ledger', unit: 'count' });
  expect(received.rows[0]?.where).toEqual([{ field: 'source', value: 'pair' }]);
  const bytes = await why({ condition: 'source = pair', measure: 'received bytes' });
  expect(bytes.unit).toBe('size');
  const found = await engine.ask<SearchAnswer>('search', {
    ...{ condition: 'source = pair', ...bytes.times.since, limit: 0, show: 'sum(raw_bytes)' },
  });
  expect((bytes.since ?? 0) / Number(found.summary?.rows[0]?.[0])).toBeCloseTo(1, 1);
  await expect(why({ condition: 'tenant = tenant-2', measure: 'received events' })).rejects.toThrow(/only counted by/);
});

test('fields of what no tier keeps are compared on the tape', async () => {
  await engine.source('dropped');
  const tier = { id: 'rest', title: 'Rest', keep: '30d' };
  const exclusions = [{ id: 'all', title: 'All', when: 'source = dropped', keep: 'none' }];
  await engine.publish({ plan: 1, pipelines: [], tiers: [{ ...tier, exclusions }] });
  const end = Math.floor(Date.now() / minute) * minute;
  const begins = end - 95 * minute;
  const lines: string[] = [];
  const add = (time: number, gate: string): void =>
    void lines.push(JSON.stringify({ time: new Date(time).toISOString(), gate, message: 'scan' }));
  for (let time = from; time < end; time += 20_000) {
    add(time, `g${(time / 20_000) % 4}`);
    if (time >= begins) for (let more = 0; more < 4; more++) add(time, 'g1');
  }
  const headers = { 'otter-backfill': new Date(from).toISOString() };
  for (let start = 0; start < lines.length; start += 10_000)
    expect((await send(engine, 'dropped', lines.slice(start, start + 10_000).join('\n'), headers)).status).toBe(200);
  const asked = { condition: 'source = dropped', measure: 'received events', from: end - 6 * hour, to: end };
  const answers = await engine.askInLines<WhyAnswer>('why', asked);
  expect(answers.map(({ basis }) => basis)).toEqual(['ledger', 'tape']);
  const last = answers.at(-1);
  expect(Math.abs((last?.began ?? 0) - begins)).toBeLessThanOrEqual(3 * minute);
  expect(last?.rows[0]?.where).toEqual([{ field: 'gate', value: 'g1' }]);
  expect(last?.rows[0]?.share).toBeGreaterThan(0.8);
});

test('finds the same pair over several sources', async () => {
  const answer = await why({ condition: 'source in (pair, steady)' });
  const values = answer.rows[0]?.where.map(({ value }) => value) ?? [];
  expect(values).toContain('tenant-2');
  expect(values).not.toContain('steady');
});

test('explains a failure share by the failing node', async () => {
  const answer = await why({ condition: 'source = failing', measure: 'share of status >= 500' });
  expect(answer).toMatchObject({ verdict: 'values', unit: 'share' });
  expect(answer.rows[0]?.where).toEqual([{ field: 'node', value: 'pier-0' }]);
  // At night a request fails only every few minutes.
  expect(Math.abs((answer.began ?? 0) - at)).toBeLessThanOrEqual(40 * minute);
  expect(answer.rows[0]?.without).toBeLessThan((answer.before ?? 0) * 1.5);
});

test('a temporary change has an end', async () => {
  const answer = await why({ condition: 'source = temporary' });
  expect(answer).toMatchObject({ verdict: 'values', form: 'temporary' });
  expect(answer.rows[0]?.where).toEqual([{ field: 'client', value: 'harbour-partner' }]);
  expect(Math.abs((answer.ended ?? 0) - (at + 3 * hour))).toBeLessThanOrEqual(40 * minute);
});

test('compares two chosen windows', async () => {
  const answer = await why({
    condition: 'source = pair',
    ...{ from: at, to: at + 2 * hour, besideFrom: at - 2 * hour, besideTo: at },
  });
  expect(answer).toMatchObject({ form: 'chosen', verdict: 'values' });
  expect(answer.began).toBeUndefined();
  expect(answer.times.before).toEqual([{ from: at - 2 * hour, to: at }]);
});

test('scales a shorter baseline to the length of the window', async () => {
  const now = { from: at - 4 * hour, to: at };
  const answer = await why({
    condition: 'source = steady',
    ...now,
    besideFrom: at - 5 * hour,
    besideTo: at - 4 * hour,
  });
  const found = await engine.ask<{ readonly total: number }>('search', {
    ...{ condition: 'source = steady', from: at - 5 * hour, to: at - 4 * hour, limit: 0 },
  });
  expect(answer.before).toBeCloseTo(found.total * 4, 3);
});

test('accepts odd field names and comments in conditions', async () => {
  const odd = JSON.stringify({ 'took-by path': 0.000_000_5, message: 'request' });
  expect((await send(engine, 'steady', odd)).status).toBe(200);
  expect(await why({ condition: 'source = steady', measure: 'p95(`took-by path`)' })).toHaveProperty('verdict');
  const answer = await why({
    condition: 'source = failing\n# all of them',
    measure: 'share of status >= 500\n# failed',
  });
  expect(answer).toMatchObject({ verdict: 'values', unit: 'share' });
});

test('a steady source is normal', async () => {
  const answer = await why({ condition: 'source = steady', from: now - 6 * hour });
  expect(answer).toMatchObject({ verdict: 'usual', form: 'none', rows: [] });
});

test('finds the minute of a jump in segment headers; an unknown source keeps the hour', async () => {
  const minutes = new JumpMinutes(engine.database, new HeaderCache(engine.database));
  const about = Math.floor(at / hour) * hour;
  expect(Math.abs((await minutes.of('temporary', about)) - at)).toBeLessThanOrEqual(10 * minute);
  expect(await minutes.of('nobody', about)).toBe(about);
});

test('explains a cost, which needs prices and agrees with a search', async () => {
  const asked = { condition: 'source in (pair, steady)', measure: 'cost' };
  await expect(why(asked)).rejects.toThrow(/no prices/);
  const [received, kept] = [1e6, 4e5];
  const entry = `{ from: 2020-01-01, received: ${received}, kept: [{ days: 30, price: ${kept} }] }`;
  await engine.ask('savePrices', { text: `prices: 1\ncurrency: { sign: cr, digits: 2 }\nentries: [${entry}]` });
  const answer = await why(asked);
  expect(answer).toMatchObject({ verdict: 'values', unit: 'coins', currency: { sign: 'cr', digits: 2 } });
  expect(answer.rows[0]?.where.map(({ value }) => value)).toContain('tenant-2');
  expect(Math.abs((answer.began ?? 0) - at)).toBeLessThanOrEqual(5 * minute);
  const found = await engine.ask<SearchAnswer>('search', {
    ...{ condition: asked.condition, ...answer.times.since, limit: 0, show: 'count(), sum(raw_bytes)' },
  });
  const [events, bytes] = (found.summary?.rows[0] ?? []).map(Number) as [number, number];
  const coins = 100 * ((bytes / 1e9) * received + (events / 1e6) * kept);
  expect((answer.since ?? 0) / coins).toBeCloseTo(1, 1);
});

test('refuses faulty questions with the position', async () => {
  const refusal = async (asked: object): Promise<{ readonly detail: string; readonly problem?: object }> =>
    await engine.ask('why', { from: '-1h', to: 'now', ...asked }).then(
      () => ({ detail: 'it was answered' }),
      (error: Error) => JSON.parse(error.message),
    );
  expect(await refusal({ measure: 'p95(' })).toMatchObject({ problem: { in: 'measure', start: 4 } });
  expect(await refusal({ measure: 'max(took)' })).toMatchObject({ problem: { in: 'measure' } });
  expect(await refusal({ condition: 'a = ' })).toMatchObject({ problem: { in: 'condition' } });
  expect((await refusal({ from: 'now', to: '-1h' })).detail).toMatch(/ends before it begins/);
  expect((await refusal({ besideFrom: '-2h' })).detail).toMatch(/both besideFrom and besideTo/);
  expect((await refusal({ from: 'soon' })).detail).toMatch(/not a time/);
});

test('limits explanations at a time', async () => {
  const asked = { condition: 'source = pair', from: now - 14 * hour, to: now };
  const answers = await Promise.all(
    Array.from({ length: 12 }, () =>
      engine.ask<WhyAnswer>('why', asked).then(
        ({ verdict }) => verdict,
        ({ message }: Error) => (message.includes('the most at a time') ? 'refused' : message),
      ),
    ),
  );
  expect(answers.filter((answer) => answer === 'values').length).toBeGreaterThanOrEqual(6);
  expect(answers).toContain('refused');
  expect(await why(asked)).toMatchObject({ verdict: 'values' });
});

test('answers unknown fields and empty windows', async () => {
  expect(await why({ condition: 'nothing = 7' })).toMatchObject({ verdict: 'nothing', rows: [] });
  expect(await why({ condition: 'source = pair', measure: 'p95(nothing)' })).toMatchObject({ verdict: 'nothing' });
  expect(await why({ from: '2020-01-01', to: '2020-01-02' })).toMatchObject({ verdict: 'nothing', before: null });
  expect(await why({ from: '+1d', to: '+2d' })).toMatchObject({ verdict: 'nothing' });
});
