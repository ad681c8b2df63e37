import { afterAll, beforeAll, describe, expect, inject, test } from 'vitest';
import type { MetricAnswer, MetricsAnswer, MetricTrialAnswer } from '#core/answers/metrics.ts';
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
  metrics: [
    {
      id: 'events',
      name: 'pier.events',
      when: 'has n',
      measure: 'count',
      by: [{ field: 'source' }, { field: 'gate' }],
    },
    { id: 'sums', name: 'pier.sums', when: 'source = north', measure: 'sum', of: 'n' },
    { id: 'spread', name: 'pier.spread', when: '', measure: 'distribution', of: 'n', by: [{ field: 'source' }] },
    { id: 'who', name: 'pier.who', when: '', measure: 'distinct', of: 'user' },
    { id: 'few', name: 'pier.few', when: '', measure: 'count', by: [{ field: 'user' }], limit: 20 },
    { id: 'tops', name: 'pier.tops', when: '', measure: 'count', by: [{ field: 'gate', top: 2 }] },
  ],
};

const read = (id: string, more: object = {}): Promise<MetricAnswer> =>
  pick([one, two]).ask<MetricAnswer>('metric', { id, from: '-2h', to: 'now', ...more });
const pick = <Item>(list: readonly Item[]): Item => list[Math.floor(Math.random() * list.length)] as Item;

test('through kills of two engines and repetitions counts and sums are those of the numbered events', async () => {
  const sent: { source: string; n: number; gate: string; user: string }[] = [];
  const lane = async (number: number): Promise<void> => {
    for (let i = 0; i < 25; i++) {
      const source = pick(['north', 'south']);
      const events = Array.from({ length: 40 }, (_, k) => ({
        n: number * 1_000 + i * 40 + k,
        gate: `gate ${(k * k) % 5}`,
        user: `u${number}-${i * 40 + k}`,
      }));
      sent.push(...events.map((event) => ({ source, ...event })));
      const at = Date.now() - Math.floor(Math.random() * 3_000_000);
      const body = events.map((event) => JSON.stringify({ time: new Date(at).toISOString(), ...event })).join('\n');
      await sendSurely(() => pick([one, two]), { source, body, at, key: `${number} ${i}` });
    }
  };
  await whileKilled([one, two], () => Promise.all([0, 1, 2].map(lane)));

  const total = (list: readonly { readonly n: number }[]): number => list.reduce((sum, { n }) => sum + n, 0);
  await expect.poll(async () => (await read('events')).whole.all, { timeout: 30_000 }).toBe(sent.length);
  expect((await read('sums')).whole.all).toBe(total(sent.filter(({ source }) => source === 'north')));
  const { lines } = await read('events', { by: 'source,gate' });
  for (const { labels, all } of lines) {
    const ours = sent.filter(({ source, gate }) => source === labels[0] && gate === labels[1]);
    expect([labels, all]).toEqual([labels, ours.length]);
  }
  expect(lines.reduce((sum, { all }) => sum + (all ?? 0), 0)).toBe(sent.length);
  const median = [...sent].map(({ n }) => n).sort((a, b) => a - b)[sent.length >> 1] as number;
  const p50 = (await read('spread', { figure: 'p50' })).whole.all as number;
  expect(Math.abs(p50 / median - 1)).toBeLessThan(0.03);
  const distinct = (await read('who')).whole.all as number;
  expect(Math.abs(distinct / sent.length - 1)).toBeLessThan(0.06);

  // As OpenMetrics they are those of this day; all of them, or those since midnight.
  const midnight = Math.floor(Date.now() / 86_400_000) * 86_400_000;
  const today = await one.ask<MetricAnswer>('metric', { id: 'sums', from: new Date(midnight).toISOString() });
  const exposed = await (await fetch(`${pick([one, two]).intake}/metrics/derived`)).text();
  // Shortly after midnight there may be nothing of some of them yet.
  if (Date.now() - midnight > 3_600_000) {
    expect(exposed).toContain(`pier_sums_total ${today.whole.all}\n`);
    expect(exposed).toContain('pier_events_total{source="north",gate="gate 1"}');
    expect(exposed).toMatch(/pier_spread_bucket\{source="south",le="\+Inf"\} \d+/);
  }
  expect(exposed.endsWith('# EOF\n')).toBe(true);

  // The time before is beside it step by step, where it is kept as finely.
  const beside = await read('events', { from: '-3h', before: 'yes' });
  expect(beside.before?.values.length).toBe(beside.whole.values.length);
  const steps = (beside.to - beside.from) / beside.every;
  expect(beside.whole.values.length).toBe(steps);
  const atEdge = await read('events', { from: '-14d', to: '-13d', before: 'yes' });
  expect(atEdge.before?.values.length ?? atEdge.whole.values.length).toBe(atEdge.whole.values.length);
  // As many steps as a window can have, wherever it begins.
  const odd = await read('events', { from: new Date(Date.now() - 499.5 * 60_000).toISOString() });
  expect(odd.whole.values.length).toBe((odd.to - odd.from) / odd.every);

  // A key with a value for each user is kept to its limit: nothing is lost, and the key is named.
  const few = await read('few', { by: 'user' });
  expect(few.whole.all).toBe(sent.length);
  expect(few.lines.length + few.otherCount).toBe(21);
  expect(few.lines[0]?.labels).toEqual(['the rest']);
  const listed = await one.ask<MetricsAnswer>('metrics');
  expect(listed.metrics.find(({ id }) => id === 'few')).toMatchObject({ series: 21, grownKey: 'user', state: 'live' });
  expect(listed.metrics.find(({ id }) => id === 'events')).toMatchObject({ grownKey: '' });
  const tops = await read('tops', { by: 'gate' });
  expect(tops.lines.map(({ labels }) => labels[0])).toContain('the rest');
  expect(tops.lines.length).toBe(3);
  expect(tops.lines.reduce((sum, { all }) => sum + (all ?? 0), 0)).toBe(sent.length);
}, 120_000);

describe('a metric before it exists', () => {
  test('its chart, its series and the key that is without end are found on the tape', async () => {
    const metric = { id: 'm', name: 'm', when: '', measure: 'count', by: [{ field: 'gate' }, { field: 'user' }] };
    const trial = await one.ask<MetricTrialAnswer>('tryMetric', { metric });
    expect(trial.problems).toEqual([]);
    expect(trial.records).toBeGreaterThan(1_000);
    expect(trial.whole.all).toBeCloseTo(trial.events, 3);
    const [gate, user] = trial.keys;
    expect(gate?.values.likely).toBe(3);
    expect(user?.values.likely).toBeGreaterThan(2_000);
    expect(user?.isOpen).toBe(true);
    expect(user?.without.series).toBe(3);
  });

  test('what else is wrong with the draft is no fault of it', async () => {
    await one.saveDraft({ ...plan, pipelines: [{ id: 'p', title: '', when: 'n >', steps: [] }] });
    const metric = { id: 'm', name: 'm', when: 'source = north', measure: 'count' };
    const trial = await one.ask<MetricTrialAnswer>('tryMetric', { metric });
    expect(trial.problems).toEqual([]);
    expect(trial.records).toBeGreaterThan(100);
    await one.ask('discardDraft');
  });

  test('what is wrong with it is reported with its place', async () => {
    const metric = { id: 'm', name: '1', when: 'n >', measure: 'sum', by: [{ field: 'tier' }] };
    const { problems } = await one.ask<MetricTrialAnswer>('tryMetric', { metric: { ...metric, name: 'm' } });
    expect(problems.map(({ path }) => path)).toEqual(['when', 'of', 'by[0].field']);
  });
});
