import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { added, noCost } from '../../costs/cost-table.ts';
import type { DaySeries } from '../../costs/day-series.ts';
import { unit } from '../../costs/money.ts';
import { dayOf } from '../../costs/month/calendar.ts';
import type { VolumePrices } from '../../costs/volume-prices.ts';
import { day } from '../../events/time-units.ts';
import type { PlanDocument } from '../../plan/document.ts';
import { withPlanEdit } from '../../plan/plan-edit.ts';
import { keepOf } from '../../plan/retention.ts';
import { parseDayAmount } from '../../routing/cap.ts';
import { fieldsOfPlan } from '../fields-of-plan.ts';
import type { ChangeSetting } from './change-kind.ts';
import { suggestedChanges } from './index.ts';
import { keptDays } from './kept-days.ts';

const now = Date.UTC(2026, 11, 2, 12);
const today = dayOf(now);

const plan: PlanDocument = {
  plan: 1,
  pipelines: [],
  tiers: [
    { id: 'long', title: 'Long', keep: '30d', when: 'source = gates' },
    { id: 'rest', title: 'Rest', keep: '4d' },
  ],
};

/** A coin for each megabyte and day that is kept; what no tier keeps is free. */
const prices: VolumePrices = {
  currency: { sign: 'cr', digits: 2 },
  costOf: ({ bytes, outcome, tier }, { keepOf } = {}) => ({
    received: 0n,
    kept: 0n,
    series: 0n,
    stored:
      outcome === 'kept'
        ? (unit / 100n) *
          BigInt(Math.round(((bytes / 1e6) * (keepOf?.(tier) ?? (tier === 'rest' ? 4 : 30) * day)) / day))
        : 0n,
  }),
};

/** What a tier kept in the last days, the last one today's, in megabytes. */
function kept(tier: string, megabytes: readonly number[]): DaySeries {
  const bytes = Float64Array.from(megabytes, (size) => size * 1e6);
  return {
    ...{ source: 'gates', tier, outcome: 'kept', shape: '', severity: -1, from: today - megabytes.length + 1 },
    ...{ events: bytes.map((size) => size / 100), bytes, stored: bytes.map((size) => size / 8) },
  };
}

const steady = Array.from({ length: 20 }, () => 10);
const unread = { since: now - 20 * day, times: 0, oldestAge: null };

type OfFields = Partial<Pick<ChangeSetting, 'fieldShares' | 'usedFields' | 'exported'>>;

function suggested(
  series: readonly DaySeries[],
  usage: Readonly<Record<string, typeof unread | object>> = {},
  ofFields: OfFields = {},
) {
  const usageOf = (tier: string) => ({ ...unread, ...usage[tier] });
  const tierDaysOf = (tier: string) =>
    keptDays(
      series.filter((one) => one.tier === tier),
      today,
    );
  // As retentionCost adds them up: the last seven days.
  const retentionCostOf = (tier: string, keep: number) => {
    const week = tierDaysOf(tier)
      .slice(-7)
      .flatMap(({ flows }) => flows);
    const costWith = (time: number) =>
      week.map((flow) => prices.costOf(flow, { keepOf: () => time })).reduce(added, noCost);
    const before = keepOf(plan, tier) ?? 0;
    return week.length > 0 ? { current: costWith(before), changed: costWith(keep), settledOn: today } : undefined;
  };
  const sourceDaysOf = (source: string) =>
    keptDays(
      series.filter((one) => one.source === source),
      today,
    );
  const fields = { fieldShares: new Map(), usedFields: undefined, exported: new Set<string>(), ...ofFields };
  return suggestedChanges({ plan, tierDaysOf, prices, retentionCostOf, usageOf, sourceDaysOf, now, ...fields });
}

test('a tier of which nothing old was read may keep less, with what that saves in a month', () => {
  const usage = { long: { times: 12, oldestAge: 1.4 * day } };
  const [only, ...others] = suggested([kept('long', steady)], usage);
  expect(others).toEqual([]);
  // Ten coins for each of 27 days, thirty times.
  expect(only).toMatchObject({ id: 'retention:long', coins: 8_100, band: 0, title: 'Keep Long 3 d instead of 30 d' });
  expect(only?.reason).toBe('12 questions in 30 days, none about events older than 1 d 10 h');
  expect(only && withPlanEdit(plan, only.edit).tiers).toMatchObject([{ keep: '3d' }, { keep: '4d' }]);
});

test('the band follows from how much the days differ', () => {
  const usage = { long: { times: 1, oldestAge: 0 } };
  const [only] = suggested([kept('long', [5, 15, 5, 15, 5, 15, 5, 15, 5])], usage);
  // Days of 5 and 15 at 29 coins; the first is not a whole one, and today is not over.
  expect(only?.coins).toBe(Math.round((30 * 29 * (4 * 15 + 3 * 5)) / 7));
  expect(only?.band).toBeGreaterThan(3_000);
  expect(only?.band).toBeLessThan(5_000);
});

test('nothing is said of tiers whose usage is not known, that nobody read, or of which old events were read', () => {
  const series = [kept('long', steady)];
  expect(suggested(series)).toEqual([]);
  expect(suggested(series, { long: { times: 3, oldestAge: day, since: now - 3 * day } })).toEqual([]);
  expect(suggested(series, { long: { times: 3, oldestAge: 20 * day } })).toEqual([]);
  expect(suggested([], { long: { times: 3, oldestAge: day } })).toEqual([]);
});

test('a tier that bursts may have a cap, which usual days do not meet', () => {
  const days = [...steady.slice(0, 15), 100, 10, 10, 10];
  const [only, ...others] = suggested([kept('rest', days)]);
  expect(others).toEqual([]);
  expect(only).toMatchObject({ id: 'cap:rest', title: 'Cap Rest at 20 MB a day' });
  expect(only?.reason).toBe('twice a usual day; Sun 29 Nov had 100 MB');
  // Eighty megabytes for four days, once in two weeks.
  expect(only?.coins).toBe(Math.round((80 * 4 * 30) / 14));
  const [, rest] = only ? withPlanEdit(plan, only.edit).tiers : [];
  expect(parseDayAmount(rest?.cap?.day ?? '')).toEqual({ unit: 'bytes', amount: 20e6 });
  expect(suggested([kept('rest', steady)])).toEqual([]);
  expect(suggested([kept('rest', [10, 10, 100, 10])])).toEqual([]);
});

describe('fields that nothing uses', () => {
  const shares = new Map([
    ['agent', 0.3],
    ['status', 0.2],
    ['Referrer', 0.1],
    ['tiny', 0.001],
  ]);
  const fieldShares = new Map([['gates', shares]]);
  const steady14 = kept('long', steady);

  test('may be left out, with their share of what storing the source costs', () => {
    const [only, ...others] = suggested([steady14], {}, { fieldShares, usedFields: new Set(['status']) });
    expect(others).toEqual([]);
    // Four tenths of ten megabytes, for 30 days each.
    expect(only).toMatchObject({
      id: 'fields:gates',
      ...{ coins: 30 * 0.4 * 300, band: 0, title: 'gates: leave out agent, Referrer' },
      edit: { kind: 'remove-fields', source: 'gates', fields: ['agent', 'Referrer'] },
    });
  });

  test('are not told before a week of usage, or of a source that was exported', () => {
    expect(suggested([steady14], {}, { fieldShares })).toEqual([]);
    const exported = new Set(['gates']);
    expect(suggested([steady14], {}, { fieldShares, usedFields: new Set(), exported })).toEqual([]);
    expect(suggested([], {}, { fieldShares, usedFields: new Set() })).toEqual([]);
  });

  test('are never those that were used, however they are written', () => {
    const name = fc.constantFrom('agent', 'Agent', 'status', 'Status', 'path', 'PATH', 'port');
    fc.assert(
      fc.property(
        fc.array(fc.tuple(name, fc.double({ min: 0, max: 0.3, noNaN: true }))),
        fc.array(name),
        (all, used) => {
          const usedFields = new Set(used.map((one) => one.toLowerCase()));
          const found = suggested([steady14], {}, { fieldShares: new Map([['gates', new Map(all)]]), usedFields });
          const names = found.flatMap(({ edit }) => (edit.kind === 'remove-fields' ? edit.fields : []));
          expect(names.filter((one) => usedFields.has(one.toLowerCase()))).toEqual([]);
        },
      ),
    );
  });

  test('are not those that a step, a condition or a test of the plan needs', () => {
    const needed = fieldsOfPlan({
      ...plan,
      pipelines: [
        {
          ...{ id: 'gates', title: 'Gates', when: 'pier = 4' },
          steps: [{ rename: { from: 'agent', to: 'client' } }],
          tests: [{ name: 'one', input: '{}', expect: { level: 3 } }],
        },
      ],
      metrics: [{ id: 'm', name: 'fares', when: 'kind = sale', measure: 'sum', of: 'fare', by: [{ field: 'port' }] }],
    });
    for (const field of ['pier', 'agent', 'level', 'kind', 'fare', 'port']) expect(needed).toContain(field);
    expect(needed).not.toContain('client');
  });
});
