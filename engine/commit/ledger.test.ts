import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import { minute } from '#core/events/time-units.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { seededRandom } from '#core/routing/route.ts';
import { tierContents } from '#store/events/segments.ts';
import { sumLedger } from '#store/volume/ledger.ts';
import { expireRound } from '../retention/expire.ts';
import { startEngine, type TestEngine } from '../testing/engine.ts';
import { sendSurely } from '../testing/surely.ts';

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

const random = seededRandom(20_261_124);
const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)] as T;

/** Some plan: steps that reject, discard, split and drop; tiers that come and go, in any order, for shorter and longer, one of which lets go at once; exclusions. */
function somePlan(): PlanDocument {
  const keep = (): string => pick(['none', 'all', '1 in 3']);
  const rule = (id: string, when: string) => ({ id, title: id, when, keep: keep() });
  const step = { convert: { field: 'value', to: 'number' }, 'on-failure': pick(['reject', 'discard', 'keep']) };
  const tiers = [
    { id: 'brief', title: 'Brief', keep: '1m', when: `kind = ${pick(['a', 'b', 'c'])}` },
    {
      id: 'high',
      title: 'High',
      keep: pick(['30d', '20m']),
      when: 'n > 60',
      exclusions: [rule('x', 'kind = b'), rule('y', 'n > 80')],
    },
    { id: 'low', title: 'Low', keep: pick(['7d', '25m']), when: 'n < 40', exclusions: [rule('z', 'kind in (a, c)')] },
  ];
  return {
    plan: 1,
    pipelines: [{ id: 'p', title: 'P', when: pick(['', 'kind = a', 'n > 20']), steps: [step] }],
    tiers: tiers.sort(() => random() - 0.5).slice(0, 1 + Math.floor(random() * 3)),
  };
}

/** The plan under which some of a few hundred lines meet every outcome, whatever chance has chosen before. */
const everyOutcome: PlanDocument = {
  plan: 1,
  pipelines: [
    {
      id: 'p',
      title: 'P',
      when: '',
      steps: [{ convert: { field: 'value', to: 'number' }, 'on-failure': 'discard' }],
    },
  ],
  tiers: [
    { id: 'brief', title: 'Brief', keep: '1m', when: 'kind = a' },
    {
      id: 'high',
      title: 'High',
      keep: '30d',
      when: 'n > 60',
      exclusions: [
        { id: 'x', title: 'x', when: 'kind = b', keep: 'none' },
        { id: 'y', title: 'y', when: 'n > 80', keep: '1 in 3' },
      ],
    },
  ],
};

function someLines(time: number, count: number): string {
  return Array.from({ length: count }, (_, i) => {
    if (random() < 0.05) return '{"broken":';
    const value = random() < 0.2 ? '"none"' : String(Math.floor(random() * 1_000));
    return `{"time":"${new Date(time + i).toISOString()}","kind":"${pick(['a', 'b', 'c', 'd'])}","n":${Math.floor(random() * 100)},"value":${value}}`;
  }).join('\n');
}

test('whatever the plans, through kills and over two engines, every minute of a source adds up to what arrived', async () => {
  const start = Math.floor(Date.now() / minute) * minute - 45 * minute;
  const sent = new Map<string, number>();
  let working = true;
  const send = async (count: number, key: string): Promise<void> => {
    const source = pick(['north', 'south']);
    const at = start + Math.floor(random() * 30) * minute;
    sent.set(`${source} ${at}`, (sent.get(`${source} ${at}`) ?? 0) + count);
    await sendSurely(() => pick([one, two]), { source, body: someLines(at, count), at, key });
  };
  const lane = async (number: number): Promise<void> => {
    for (let i = 0; i < 60; i++) await send(20 + Math.floor(random() * 30), `${number} ${i}`);
  };
  const disturb = async (): Promise<void> => {
    for (let i = 0; working; i++) {
      const engine = pick([one, two]);
      await engine.publish(somePlan());
      if (i % 4 !== 3) continue;
      await engine.kill();
      await engine.restart();
    }
  };
  const disturbing = disturb();
  await Promise.all([0, 1, 2, 3].map(lane));
  working = false;
  await disturbing;
  await one.publish(everyOutcome);
  await two.refresh();
  await send(400, 'last');
  const window = { from: start, to: start + 60 * minute };
  const sums = await sumLedger(one.database, window, ['source', 'outcome', 'tier'], minute);
  const counted = new Map<string, number>();
  for (const { source, start: at, events } of sums)
    counted.set(`${source} ${at}`, (counted.get(`${source} ${at}`) ?? 0) + events);
  for (const [key, events] of counted) if (events === 0) counted.delete(key);
  expect(new Map([...counted].sort())).toEqual(new Map([...sent].sort()));
  const outcomes = new Set(sums.filter(({ events }) => events > 0).map(({ outcome }) => outcome));
  for (const outcome of ['kept', 'excluded', 'sampled-out', 'passing', 'rejected', 'discarded', 'expired'])
    expect(outcomes).toContain(outcome);
  // What the ledger calls kept is what is stored, in each tier, as what a revision lets go stays for a day; what had expired is nowhere.
  await expireRound(one.database, everyOutcome, Date.now());
  const contents = new Map((await tierContents(one.database)).map(({ tier, events }) => [tier, events]));
  for (const tier of ['high', 'low', 'brief']) {
    const kept = sums.filter((sum) => sum.outcome === 'kept' && sum.tier === tier);
    expect([tier, contents.get(tier) ?? 0]).toEqual([tier, kept.reduce((sum, { events }) => sum + events, 0)]);
  }
  expect(contents.has('brief')).toBe(false);
});
