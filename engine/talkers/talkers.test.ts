import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import type { RankingAnswer, RankingsAnswer } from '#core/answers/rankings.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { startEngine, type TestEngine } from '../testing/engine.ts';
import { sendSurely } from '../testing/surely.ts';
import { whileKilled } from '../testing/while-killed.ts';

let one: TestEngine;
let two: TestEngine;

beforeAll(async () => {
  one = await startEngine(inject('mariadb'));
  two = await startEngine(inject('mariadb'), one);
  await one.source('north');
  await one.source('south');
  await one.publish(plan);
  await two.refresh();
}, 60_000);

afterAll(async () => {
  await Promise.all([one?.stop(), two?.stop()]);
});

const plan: PlanDocument = {
  plan: 1,
  pipelines: [],
  tiers: [
    {
      id: 'rest',
      title: 'Rest',
      keep: '7d',
      exclusions: [{ id: 'all', title: 'All', when: 'n >= 0', keep: 'none' }],
    },
  ],
  rankings: [
    { id: 'gates', title: 'Gates by n', when: 'has n', by: ['source', 'gate'], measure: 'sum', of: 'n' },
    { id: 'users', title: 'Users', when: 'source = north', by: ['user'], measure: 'events' },
  ],
};

const pick = <Item>(list: readonly Item[]): Item => list[Math.floor(Math.random() * list.length)] as Item;
const read = (id: string, more: object = {}): Promise<RankingAnswer> =>
  pick([one, two]).ask<RankingAnswer>('ranking', { id, from: '-2h', to: 'now', ...more });

test('through kills of two engines and repetitions rankings are those of the numbered events, though none is kept', async () => {
  const sent: { source: string; n: number; gate: string; user: string; bytes: number }[] = [];
  const lane = async (number: number): Promise<void> => {
    for (let i = 0; i < 20; i++) {
      const source = pick(['north', 'south']);
      const at = Date.now() - Math.floor(Math.random() * 3_000_000);
      const lines = Array.from({ length: 40 }, (_, k) => {
        const event = { n: number * 1_000 + i * 40 + k, gate: `gate ${(k * k) % 5}`, user: `u${(i * k) % 70}` };
        const line = JSON.stringify({ time: new Date(at).toISOString(), ...event });
        sent.push({ source, ...event, bytes: line.length });
        return line;
      });
      await sendSurely(() => pick([one, two]), { source, body: lines.join('\n'), at, key: `${number} ${i}` });
    }
  };
  await whileKilled([one, two], () => Promise.all([0, 1, 2].map(lane)));

  const summed = (
    keyOf: (event: (typeof sent)[number]) => string,
    amount: (event: (typeof sent)[number]) => number,
  ) => {
    const sums = new Map<string, number>();
    for (const event of sent) sums.set(keyOf(event), (sums.get(keyOf(event)) ?? 0) + amount(event));
    return Object.fromEntries([...sums].sort());
  };
  const reported = ({ talkers }: RankingAnswer) =>
    Object.fromEntries(talkers.map(({ labels, amount }) => [labels.join(' '), amount] as const).sort());

  const total = sent.reduce((sum, { n }) => sum + n, 0);
  await expect.poll(async () => (await read('gates')).total, { timeout: 30_000 }).toBe(total);
  const gates = await read('gates');
  expect(reported(gates)).toEqual(
    summed(
      ({ source, gate }) => `${source} ${gate}`,
      ({ n }) => n,
    ),
  );
  expect(gates.missed).toBe(0);
  expect(reported(await read('sources'))).toEqual(
    summed(
      ({ source }) => source,
      ({ bytes }) => bytes,
    ),
  );
  const users = await read('users');
  const ofNorth = new Set(sent.filter(({ source }) => source === 'north').map(({ user }) => user));
  expect(users.distinct).toBe(ofNorth.size);

  // By another level it is the same; steps add up to the whole.
  const days = await read('gates', { from: '-80d' });
  expect(days.every).toBe(86_400_000);
  expect(reported(days)).toEqual(reported(gates));
  for (const { amount, values } of gates.talkers) expect(values.reduce((sum, value) => sum + value, 0)).toBe(amount);
  expect(gates.totals.reduce((sum, value) => sum + value, 0)).toBe(total);
  expect(gates.talkers.reduce((sum, { share }) => sum + share, 0)).toBeCloseTo(1, 9);

  // Who is first is left out: the others come to the rest.
  const [first] = gates.talkers;
  const others = await read('gates', { without: JSON.stringify([first?.labels]) });
  expect(others.total).toBe(total - (first?.amount ?? 0));
  expect(others.leftOut).toBe(first?.amount);
  expect(others.talkers.map(({ labels }) => labels)).toEqual(gates.talkers.slice(1).map(({ labels }) => labels));
  // One of the steps alone.
  const step = gates.totals.findIndex((value) => value > 0);
  const at = new Date(gates.from + step * gates.every).toISOString();
  expect((await read('gates', { at })).total).toBe(gates.totals[step]);
}, 120_000);

test('the ready ones and those of the plan are listed, those of the draft as such', async () => {
  await one.saveDraft({
    ...plan,
    rankings: [
      { id: 'users', title: 'Users', when: '', by: ['user'], measure: 'events' },
      { id: 'n', title: 'N', when: '', by: ['n'], measure: 'events' },
    ],
  });
  const { rankings, isDraft, from } = await one.ask<RankingsAnswer>('rankings');
  expect(isDraft).toBe(true);
  // Shares are counted by the hour, so the window begins at a full hour.
  expect([from % 3_600_000, Math.floor((Date.now() - from) / 3_600_000)]).toEqual([0, 24]);
  expect(rankings.map(({ id, state }) => [id, state])).toEqual([
    ['sources', 'live'],
    ['emitters', 'live'],
    ['shapes', 'live'],
    ['clients', 'live'],
    ['users', 'changed'],
    ['n', 'new'],
    ['gates', 'removed'],
  ]);
  expect(rankings[0]).toMatchObject({ isReady: true, distinct: 2 });
  expect(rankings.find(({ id }) => id === 'shapes')?.first?.name).toMatch(/^gate n user · (north|south)$/);
  await one.ask('discardDraft');
});

test('what cannot be asked for is refused in words', async () => {
  const refused = (input: object) =>
    one.ask('ranking', { id: 'gates', ...input }).catch((error: Error) => error.message);
  expect(await refused({ id: 'nothing' })).toMatch('no ranking of this id');
  expect(await refused({ from: 'now', to: '-1d' })).toMatch('ends before it begins');
  expect(await refused({ from: '-3000d', to: '-2000d' })).toMatch('before what is kept');
  expect(await refused({ at: '-40d' })).toMatch('not within the window');
  expect(await refused({ without: '[1]' })).toMatch('without');
  expect(await refused({ without: 'nonsense' })).toMatch('without');
});
