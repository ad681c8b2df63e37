import { describe, expect, test } from 'vitest';
import type { CapView } from '../answers/caps.ts';
import type { CostMonthAnswer } from '../answers/costs.ts';
import type { BudgetView } from '../costs/month/cost-month.ts';
import { hour } from '../events/time-units.ts';
import { grownKey } from '../metrics/grown-key.ts';
import {
  attentionFromBudgets,
  attentionFromCaps,
  attentionFromHealth,
  attentionFromLedger,
  attentionFromMetrics,
  attentionFromQuarantine,
} from './attention.ts';

const now = Date.UTC(2026, 10, 24, 9, 30);
const hours = Array.from({ length: 14 * 24 }, (_, i) => Math.floor(now / hour) * hour - i * hour);

function steady(source: string, bytes: (start: number) => number, unparsed: (start: number) => number = () => 0) {
  return hours.flatMap((start) => {
    const all = bytes(start);
    const failed = all * unparsed(start);
    return [
      { start, source, parsed: true, events: (all - failed) / 100, bytes: all - failed, stored: 0 },
      ...(failed > 0 ? [{ start, source, parsed: false, events: failed / 100, bytes: failed, stored: 0 }] : []),
    ];
  });
}

describe('caps', () => {
  const day = { start: Date.UTC(2026, 10, 24), end: Date.UTC(2026, 10, 25) };
  const view = (more: Partial<CapView>): CapView => ({
    ...{ tier: 'rest', unit: 'events', amount: 1_000, isLifted: false, day },
    ...{ kept: { events: 500, bytes: 5e5 }, over: { events: 0, bytes: 0 }, overSince: null },
    ...{ sources: [], shapes: [], forecast: null, saves: 0 },
    ...more,
  });
  const reported = (more: Partial<CapView>) => attentionFromCaps([view(more)], () => 'Everything else', now);

  test('are reported from four fifths on, and once they are met', () => {
    expect(reported({})).toEqual([]);
    expect(reported({ kept: { events: 800, bytes: 8e5 } })).toMatchObject([
      { kind: 'cap-near', level: 'caution', tier: 'rest', figure: '800 of 1,000' },
    ]);
    const met = { kept: { events: 1_000, bytes: 1e6 }, over: { events: 7, bytes: 7e3 }, overSince: day.start };
    expect(reported(met)).toMatchObject([
      { kind: 'cap-met', level: 'danger', title: 'Everything else has met its cap for the day', since: day.start },
    ]);
    expect(reported(met)[0]?.detail).toContain('7 events (7 kB) went another way');
    expect(reported({ ...met, isLifted: true })).toEqual([]);
  });
});

test('budgets are reported once each: crossed, to be crossed, or four fifths spent; half on its day', () => {
  const now = Date.UTC(2026, 10, 22, 9);
  const month: CostMonthAnswer = {
    ...{ currency: { sign: 'cr', digits: 2 }, from: 0, to: 0, days: [], spent: 0, end: null, toCome: [] },
    ...{ budgets: [], isOver: false, changes: [], fullMonth: null },
  };
  const budget: BudgetView = {
    ...{ team: null, fleet: null, tier: null, amount: 10_000, spent: 5_000, heading: 9_000, crossedOn: null },
    halfOn: '2026-11-20',
  };
  const reported = (more: Partial<BudgetView>) =>
    attentionFromBudgets({ ...month, budgets: [{ ...budget, ...more }] }, now)[0];
  expect(reported({})).toBeUndefined();
  expect(reported({ halfOn: '2026-11-22', fleet: 'piers' })).toMatchObject({
    ...{ level: 'caution', title: "The month's budget of piers is half spent" },
  });
  expect(reported({ spent: 8_000 })).toMatchObject({
    kind: 'budget-near',
    title: "The month's budget is nearly spent",
  });
  expect(reported({ crossedOn: '2026-11-29', team: 'sea' })).toMatchObject({
    ...{ level: 'caution', title: "The month's budget of sea will not last" },
    detail: expect.stringContaining('crossed on Sun 29 Nov as it goes'),
  });
  expect(reported({ spent: 10_000, crossedOn: '2026-11-20', tier: 'rest' })).toMatchObject({
    ...{ kind: 'budget-crossed', level: 'danger', tier: 'rest', since: Date.UTC(2026, 10, 20) },
  });
  expect(attentionFromBudgets({ ...month, currency: null, budgets: [{ ...budget, spent: 10_000 }] }, now)).toEqual([]);
});

describe('what needs attention', () => {
  test('nothing, when all is steady', () => {
    expect(
      attentionFromLedger(
        steady('calm', () => 1e5),
        now,
      ),
    ).toEqual([]);
  });

  test('lines that stopped fitting, with the hour it began', () => {
    const since = hours[70] as number;
    const found = attentionFromLedger(
      steady(
        'payments',
        () => 1e5,
        (start) => (start >= since ? 0.3 : 0),
      ),
      now,
    );
    expect(found).toMatchObject([{ kind: 'parse-failures', source: 'payments', since, figure: '30 %' }]);
  });

  test('a source that always failed is no news', () => {
    expect(
      attentionFromLedger(
        steady(
          'text',
          () => 1e5,
          () => 0.9,
        ),
        now,
      ),
    ).toEqual([]);
  });

  test('a source that sends far more than before', () => {
    const since = Date.UTC(2026, 10, 19);
    const sums = [...steady('partner', (start) => (start >= since ? 8e5 : 1e5)), ...steady('calm', () => 1e6)];
    expect(attentionFromLedger(sums, now)).toMatchObject([{ kind: 'volume-jump', source: 'partner', since }]);
  });

  test('a source that has sent far more since a morning, with the hour in which that began', () => {
    const since = Date.UTC(2026, 10, 19, 9);
    const sums = [...steady('partner', (start) => (start >= since ? 12e5 : 1e5)), ...steady('calm', () => 1e6)];
    expect(attentionFromLedger(sums, now)).toMatchObject([{ kind: 'volume-jump', source: 'partner', since }]);
  });

  test('a source that was first heard late on a day did not send less on that day', () => {
    const first = Math.floor((now - 13 * 24 * hour) / (24 * hour)) * 24 * hour + 22 * hour;
    const sums = steady('young', () => 1e6).filter(({ start }) => start >= first);
    expect(attentionFromLedger(sums, now)).toEqual([]);
  });
});

test('silent sources stand for their emitters, and groups are reported with their cause', () => {
  const member = (source: string, emitter: string) => ({ source, emitter, lastHeard: now });
  const cause = { trait: 'pier', value: '4', silent: 2, all: 2, sure: 0.94 };
  const found = attentionFromHealth(
    [{ source: 'tides', reason: 'reports every 12 s; nothing for 9 min', since: now - hour }],
    [
      { at: now, members: [member('gates', 'p4-1'), member('gates', 'p4-2')], causes: [cause] },
      { at: now, members: [member('tides', 'tide-1')], causes: [] },
    ],
  );
  expect(found).toMatchObject([
    { kind: 'silent-source', source: 'tides', detail: expect.stringContaining('reports every 12 s') },
    {
      kind: 'silent-emitters',
      title: '2 emitters of gates fell silent together',
      detail: 'they share pier 4: 2 of 2 with it are silent, 94 % sure',
    },
  ]);
});

describe('what is not handled at all', () => {
  test('a source of which nothing becomes fields, however long that has been so', () => {
    const found = attentionFromLedger(
      steady(
        'notices',
        () => 1e5,
        () => 1,
      ),
      now,
    );
    expect(found).toMatchObject([
      { kind: 'parse-failures', source: 'notices', title: 'Nothing of notices becomes fields' },
    ]);
    const few = steady(
      'bell',
      () => 100,
      () => 1,
    );
    expect(attentionFromLedger(few, now)).toEqual([]);
  });

  test('deliveries that were set aside', () => {
    const [one, more] = attentionFromQuarantine([
      { source: 'gates', deliveries: 1, records: 40, last: now },
      { source: 'tides', deliveries: 3, records: 5_000, last: now },
    ]);
    expect(one).toMatchObject({ kind: 'set-aside', level: 'danger', title: '1 delivery of gates could not be stored' });
    expect(more).toMatchObject({ figure: '5,000 records', title: '3 deliveries of tides could not be stored' });
  });
});

test('a metric whose key grew beyond its limit is reported once, with when that began', () => {
  const rest = { labels: { user: true as const }, firstSeen: 5_000, lastSeen: 90_000_000 };
  const users = ['a', 'b'].map((user) => ({ labels: { user }, firstSeen: 1_000, lastSeen: 2_000 }));
  expect(grownKey([...users, rest], 100_000_000)).toEqual({ key: 'user', since: 5_000 });
  expect(grownKey([...users, rest], 200_000_000)).toBeUndefined();
  expect(grownKey(users, 3_000)).toBeUndefined();
  const grown = { key: 'user', since: 5_000 };
  expect(attentionFromMetrics([{ id: 'm', name: 'visits', limit: 1_000, grown }])).toMatchObject([
    { kind: 'series-limit', metric: 'm', figure: '1,000 series', since: 5_000 },
  ]);
});
