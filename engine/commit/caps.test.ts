import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import { hour } from '#core/events/time-units.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { daysOf } from '#core/routing/day-of-zone.ts';
import { seededRandom } from '#core/routing/route.ts';
import { listCapDays } from '#store/volume/cap-days.ts';
import { sumLedger } from '#store/volume/ledger.ts';
import { startEngine, type TestEngine } from '../testing/engine.ts';
import { sendSurely } from '../testing/surely.ts';
import { whileKilled } from '../testing/while-killed.ts';

let one: TestEngine;
let two: TestEngine;

beforeAll(async () => {
  one = await startEngine(inject('mariadb'));
  two = await startEngine(inject('mariadb'), one);
  for (const name of ['north', 'south']) await one.source(name, { format: 'json' });
  await two.refresh();
});

afterAll(async () => {
  await two.stop();
  await one.stop();
});

const random = seededRandom(20_261_127);
const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)] as T;
const zone = 'Europe/Oslo';

/** Hours around midnight when clocks are put forward, when they are put back, and on other days. */
const nights = ['2026-03-28T20:00:00Z', '2026-03-29T20:00:00Z', '2026-10-24T20:00:00Z', '2026-10-25T21:00:00Z'];
const capped: PlanDocument = {
  plan: 1,
  pipelines: [],
  tiers: [
    {
      id: 'small',
      title: 'Small',
      keep: '1800d',
      when: 'n < 300',
      cap: { day: '200 events', zone, over: { tier: 'rest' } },
    },
    { id: 'fair', title: 'Fair', keep: '1800d', when: 'n < 500', cap: { day: '12 kB', zone, over: 'sample' } },
    { id: 'rest', title: 'Rest', keep: '1800d', when: 'n < 900', cap: { day: '700 events', zone, over: 'passing' } },
  ],
};

test('over midnights, changes of the clock, two engines and kills no day keeps more than it may, and nothing is uncounted', async () => {
  await one.publish(capped);
  await two.refresh();
  let sent = 0;
  const lane = async (number: number): Promise<void> => {
    for (let i = 0; i < 40; i++) {
      const begins = Date.parse(pick(nights)) + Math.floor(random() * 5 * hour);
      const lines = Array.from({ length: 20 + Math.floor(random() * 60) }, (_, k) => {
        const n = Math.floor(random() * 1_000);
        return `{"time":"${new Date(begins + k * 60_000).toISOString()}","n":${n},"msg":"${pick(['berth', 'gate', 'tide'])} ${n}"}`;
      });
      sent += lines.length;
      await sendSurely(() => pick([one, two]), {
        source: pick(['north', 'south']),
        body: lines.join('\n'),
        at: begins,
        key: `${number} ${i}`,
      });
    }
  };
  await whileKilled([one, two], () => Promise.all([0, 1, 2, 3].map(lane)));

  const window = { from: Date.parse('2026-03-01T00:00:00Z'), to: Date.parse('2026-11-20T00:00:00Z') };
  const sums = await sumLedger(one.database, window, ['outcome', 'tier', 'rule'], hour);
  expect(sums.reduce((all, { events }) => all + events, 0)).toBe(sent);
  const dayOf = daysOf(zone);
  const kept = new Map<string, { events: number; bytes: number }>();
  for (const { start, outcome, tier = '', events, bytes } of sums) {
    if (outcome !== 'kept') continue;
    const key = `${tier} ${dayOf(start).start}`;
    const before = kept.get(key) ?? { events: 0, bytes: 0 };
    kept.set(key, { events: before.events + events, bytes: before.bytes + bytes });
  }
  const days = await listCapDays(one.database.db, ['small', 'fair', 'rest'], window);
  expect(days.length).toBeGreaterThan(9);
  for (const { tier, day, events, bytes } of days) {
    expect([tier, day, kept.get(`${tier} ${day}`)]).toEqual([tier, day, { events, bytes }]);
    if (tier === 'fair') expect(bytes).toBeLessThanOrEqual(12_000);
    else expect(events).toBeLessThanOrEqual(tier === 'small' ? 200 : 700);
  }
  // The caps were met, what was over went where they say, and is counted as it went.
  const over = days.reduce((all, { overEvents }) => all + overEvents, 0);
  const passed = sums.filter(({ outcome, rule = '' }) => outcome === 'overflowed' || rule.startsWith('cap/'));
  expect(days.filter(({ tier, events }) => tier === 'small' && events === 200).length).toBeGreaterThan(1);
  expect(sums.some(({ outcome, tier }) => outcome === 'overflowed' && tier === 'fair')).toBe(true);
  expect(over).toBeGreaterThanOrEqual(passed.reduce((all, { events }) => all + events, 0));
  expect((await one.search({ condition: 'overflow.of = small tier = rest' })).total).toBe(
    sums.reduce(
      (all, { tier, outcome, rule, events }) =>
        all + (tier === 'rest' && outcome === 'kept' && rule === 'cap/small' ? events : 0),
      0,
    ),
  );
});

test('who can be answered is refused past a cap that refuses, until its day ends; a cap that is new counts what came before', async () => {
  const plan = (day: string): PlanDocument => ({
    plan: 1,
    pipelines: [],
    tiers: [{ id: 'today', title: 'Today', keep: '30d', ...(day !== '' && { cap: { day, over: 'refuse' } }) }],
  });
  await one.publish(plan(''));
  const send = (count: number): Promise<Response> =>
    fetch(`${one.intake}/intake/north`, {
      method: 'POST',
      headers: { authorization: 'Bearer token-north' },
      body: Array.from({ length: count }, (_, n) => `{"n":${n}}`).join('\n'),
    });
  expect((await send(30)).status).toBe(200);
  await one.publish(plan('100 events'));
  expect((await send(60)).status).toBe(200);
  const refused = await send(11);
  expect(refused.status).toBe(429);
  const midnight = daysOf('UTC')(Date.now()).end;
  expect(Math.abs(Number(refused.headers.get('retry-after')) - (midnight - Date.now()) / 1000)).toBeLessThan(60);
  const { detail } = await refused.json();
  expect(detail).toContain(new Date(midnight).toISOString().slice(0, 16));
  expect((await send(10)).status).toBe(200);
  expect((await one.search({ condition: 'source = north tier = today' })).total).toBe(100);
  const [day] = await listCapDays(one.database.db, ['today'], { from: midnight - 24 * hour, to: midnight });
  expect(day).toMatchObject({ events: 100, overEvents: 0 });
  // What came while there was no cap counts once it is back.
  await one.publish(plan(''));
  expect((await send(20)).status).toBe(200);
  await one.publish(plan('130 events'));
  expect((await send(11)).status).toBe(429);
  expect((await send(10)).status).toBe(200);
});
