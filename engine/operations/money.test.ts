import fc from 'fast-check';
import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import type { CapsAnswer } from '#core/answers/caps.ts';
import type { CostMonthAnswer, CostsAnswer } from '#core/answers/costs.ts';
import type { MetricsAnswer } from '#core/answers/metrics.ts';
import type { OverviewAnswer, StageFiguresAnswer } from '#core/answers/overview.ts';
import type { RoutingAnswer } from '#core/answers/routing.ts';
import type { CatalogueAnswer, VolumeAnswer } from '#core/answers/search.ts';
import type { ShapesAnswer } from '#core/answers/shapes.ts';
import type { SuggestionsAnswer } from '#core/answers/suggestions.ts';
import type { SwitchesAnswer } from '#core/answers/switches.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { RehearsalAnswer } from '#core/rehearsal/rehearsal-answer.ts';
import type { Amount } from '#core/routing/volume-sums.ts';
import { noteSeriesOfToday } from '../metrics/metric-days.ts';
import { send, startEngine, type TestEngine } from '../testing/engine.ts';

/**
 * Recomputes every amount of money from ledger rows and the price book, with plain numbers and without the product's code for
 * costs. Amounts may differ by what answers round: coins, and whole byte-days.
 */
let engine: TestEngine;

const doors = { id: 'doors', keep: 14 };
const rest = { id: 'rest', keep: 30 };
const gateLine = (i: number): string => `{"msg":"gate ${i} opened","lane":"lane-${i % 4}","wait":${i}}`;
const gates = Array.from({ length: 60 }, (_, i) => gateLine(i)).join('\n');
const tides = Array.from({ length: 30 }, (_, i) => `tide ${i} ${i % 3 ? 'high' : 'low'}`).join('\n');

const live: PlanDocument = {
  plan: 1,
  pipelines: [],
  tiers: [
    {
      ...{ id: doors.id, title: 'Doors', when: 'source = gates', keep: `${doors.keep}d` },
      cap: { day: '40 events', over: 'passing' },
    },
    {
      ...{ id: rest.id, title: 'Rest', keep: `${rest.keep}d` },
      exclusions: [{ id: 'low', title: 'Low', when: '"low"', keep: 'none' }],
    },
  ],
  metrics: [{ id: 'opened', name: 'gate.opened', when: 'source = gates', measure: 'count', by: [{ field: 'lane' }] }],
  postures: [{ id: 'storm', title: 'Storm', overrides: [{ exclusion: 'rest/low', keep: 'all' }] }],
};

beforeAll(async () => {
  engine = await startEngine(inject('mariadb'));
  await engine.source('gates');
  await engine.source('tides');
  await engine.publish(live);
  await send(engine, 'gates', gates);
  await send(engine, 'tides', tides);
  await engine.found({ condition: '', limit: 0 }, 90);
});

afterAll(() => engine.stop());

type Sum = VolumeAnswer['sums'][number];

/** Prices of a book whose events kept have a point at the days of each tier. */
interface Prices {
  readonly digits: number;
  readonly received: number;
  readonly keptDoors: number;
  readonly keptRest: number;
  readonly stored: number;
  readonly series: number;
  /** Of what comes to doors alone. */
  readonly ownReceived: number;
}

const price = (most: number) => fc.integer({ min: 1, max: most * 10 }).map((tenths) => tenths / 10);
const books: fc.Arbitrary<Prices> = fc.record({
  digits: fc.constantFrom(0, 2, 3),
  received: price(1e7),
  keptDoors: price(1e6),
  keptRest: price(1e6),
  stored: price(1e8),
  series: price(1e3),
  ownReceived: price(1e7),
});

function written({ digits, received, keptDoors, keptRest, stored, series, ownReceived }: Prices): string {
  return `
prices: 1
currency: { sign: cr, digits: ${digits} }
entries:
  - from: 2020-01-01
    received: ${received}
    kept: [{ days: ${doors.keep}, price: ${keptDoors} }, { days: ${rest.keep}, price: ${keptRest} }]
    stored: ${stored}
    series: ${series}
    own: [{ tier: doors, received: ${ownReceived} }]
`;
}

const isKept = ({ outcome }: Pick<Sum, 'outcome'>): boolean => outcome === 'kept';
const daysOf = (tier: string): number => (tier === doors.id ? doors.keep : rest.keep);

/** What receiving, keeping and storing costs until it is gone, in coins. */
function lifetime(prices: Prices, { outcome, tier = '', events, bytes, stored }: Omit<Sum, 'start' | 'source'>) {
  const isHere = outcome === 'kept';
  const inDoors = isHere && tier === doors.id;
  const coin = 10 ** prices.digits;
  const days = isHere ? daysOf(tier) : 1 / 24;
  return {
    received: (coin * bytes * (inDoors ? prices.ownReceived : prices.received)) / 1e9,
    kept: isHere ? (coin * events * (inDoors ? prices.keptDoors : prices.keptRest)) / 1e6 : 0,
    stored: (((coin * stored * prices.stored) / 1e9) * days) / 30,
  };
}

const whole = (cost: ReturnType<typeof lifetime>): number => cost.received + cost.kept + cost.stored;
const total = (values: readonly number[]): number => values.reduce((sum, value) => sum + value, 0);
const coinsIn = (parts: readonly { readonly coins: number }[]): number => total(parts.map(({ coins }) => coins));

test('all amounts of all answers follow from the ledger and the book', { timeout: 300_000 }, async () => {
  // What is learnt of the tape and of series is there a moment after the events.
  const isKnown = async (): Promise<boolean> => {
    const { postures } = await engine.ask<SwitchesAnswer>('switches');
    const { metrics } = await engine.ask<MetricsAnswer>('metrics');
    const { shapes } = await engine.ask<ShapesAnswer>('shapes', { condition: '', from: '-1d', to: 'now' });
    return postures[0]?.adds?.events === 10 / 24 && metrics[0]?.series === 4 && shapes.length >= 3;
  };
  await expect.poll(isKnown, { timeout: 60_000 }).toBe(true);
  // The engine does this once a minute.
  await noteSeriesOfToday(engine.database, live, Date.now());
  const { sums } = await engine.ask<VolumeAnswer>('volume', { by: 'source,outcome,tier' });
  expect(total(sums.map(({ events }) => events))).toBe(90);
  /** Bytes in the store for each byte that arrived from a source, of events that were kept or of the others. */
  const shareStored = (source: string, kept: boolean): number => {
    const of = sums.filter((sum) => sum.source === source && isKept(sum) === kept);
    return total(of.map(({ stored }) => stored)) / total(of.map(({ bytes }) => bytes));
  };
  /** Coins that volume costs more where it is kept than where it is not. */
  const difference = (prices: Prices, source: string, tier: string, { events, bytes }: Amount): number => {
    const as = (outcome: string): number => {
      const stored = bytes * shareStored(source, outcome === 'kept');
      return whole(lifetime(prices, { tier, outcome, events, bytes, stored }));
    };
    return as('kept') - as('excluded');
  };
  const property = async (prices: Prices): Promise<void> => {
    await engine.ask('savePrices', { text: written(prices) });
    const coin = 10 ** prices.digits;
    // Storage is charged for whole byte-days, and each amount is rounded to coins; `times` is how often both are multiplied.
    const slack = 2 + (10 * coin * prices.stored) / 1e9 / 30;
    const near = (actual: number | undefined, plain: number, what: string, times = 1, more = 0): void => {
      const apart = Math.abs((actual ?? Number.NaN) - plain);
      expect(apart, `${what}: ${actual} instead of ${plain}`).toBeLessThanOrEqual(
        times * slack + more + Math.abs(plain) * 1e-6,
      );
    };
    const cost = (of: (sum: Sum) => boolean) => total(sums.filter(of).map((sum) => whole(lifetime(prices, sum))));

    const { flow, slices } = await engine.ask<OverviewAnswer>('overview');
    for (const { kind, title, coins } of flow.nodes)
      if (kind === 'source')
        near(
          coins,
          cost(({ source }) => source === title),
          `overview, ${title}`,
        );
    near(
      coinsIn(flow.nodes.filter(({ kind }) => kind === 'source')),
      cost(() => true),
      'overview, sources',
    );
    near(coinsIn(flow.nodes.filter(({ kind }) => kind === 'tier')), cost(isKept), 'overview, tiers');
    near(
      coinsIn(slices.flatMap(({ places }) => Object.values(places))),
      cost(() => true),
      'overview, hours',
    );

    const shapes = await engine.ask<ShapesAnswer>('shapes', { condition: '', from: '-1d', to: 'now' });
    near(
      shapes.total.coins,
      cost(() => true),
      'shapes',
    );
    near(
      coinsIn(shapes.shapes) + shapes.rest.coins,
      cost(() => true),
      'shapes, one by one',
    );

    const { tiers } = await engine.ask<RoutingAnswer>('routing');
    const low = tiers.find(({ id }) => id === rest.id)?.exclusions[0];
    const excluded = sums.find(({ outcome, source }) => outcome === 'excluded' && source === 'tides');
    if (!low || !excluded) throw new Error('ten lines are excluded');
    expect(low.removed).toEqual({ events: 10, bytes: excluded.bytes });
    near(low.saves, 30 * difference(prices, 'tides', rest.id, excluded), 'exclusion', 30);

    const { caps } = await engine.ask<CapsAnswer>('caps');
    const over = sums.find((sum) => sum.source === 'gates' && !isKept(sum));
    if (!over) throw new Error('twenty events are past the cap');
    near(caps[0]?.saves, difference(prices, 'gates', doors.id, over), 'cap');

    const { metrics, coins, series } = await engine.ask<MetricsAnswer>('metrics');
    expect(series).toBe(4);
    near(coins, coin * 4 * prices.series, 'series');
    near(coinsIn(metrics), coin * 4 * prices.series, 'series of each metric');

    const { fields } = await engine.ask<CatalogueAnswer>('catalogue');
    const byField = await engine.ask<CostsAnswer>('costs', { by: 'field' });
    expect(byField.rows.length).toBeGreaterThan(2);
    const most = total(sums.map((sum) => lifetime(prices, sum)).map(({ received, stored }) => received + stored));
    expect(coinsIn(fields)).toBeLessThanOrEqual(30 * most + fields.length);

    const { suggestions } = await engine.ask<SuggestionsAnswer>('suggestions');
    expect(suggestions.length).toBeGreaterThan(0);
    for (const { saved, coins: saves } of suggestions)
      near(saves, 30 * difference(prices, 'gates', doors.id, saved), 'worth doing', 30);

    const { postures } = await engine.ask<SwitchesAnswer>('switches');
    near(postures[0]?.adds?.coins, difference(prices, 'tides', rest.id, excluded) / 24, 'posture');

    // A calendar day: what was received and kept, a day of storage, and a day's part of the series.
    const today = new Date();
    const days = new Date(Date.UTC(today.getUTCFullYear(), today.getUTCMonth() + 1, 0)).getUTCDate();
    const parts = sums.map((sum) => lifetime(prices, sum));
    const { all } = await engine.ask<CostsAnswer>('costs', {});
    near(all.received, total(parts.map(({ received }) => received)), 'received');
    near(all.kept, total(parts.map(({ kept }) => kept)), 'kept');
    near(all.series, (coin * 4 * prices.series) / days, 'series of a day');
    const storedDays = total(sums.map((sum) => sum.stored * (isKept(sum) ? 1 : 1 / 24)));
    near(all.stored, (coin * storedDays * prices.stored) / 1e9 / days, 'stored', 1, all.stored * 0.05);
    const month = await engine.ask<CostMonthAnswer>('costMonth');
    const course = await engine.ask<StageFiguresAnswer>('stageFigures');
    expect([month.spent, course.month?.coins]).toEqual([all.whole, all.whole]);

    const kept = live.tiers.map((tier) => ({
      ...tier,
      exclusions: (tier.exclusions ?? []).map((exclusion) => ({ ...exclusion, keep: 'all' })),
    }));
    await engine.saveDraft({ ...live, tiers: kept });
    const { money } = await engine.ask<RehearsalAnswer>('rehearseDraft');
    // A rehearsal knows no cap: what went past it would be kept.
    const uncapped = cost(() => true) + difference(prices, 'gates', doors.id, over);
    near(money?.live, 30 * uncapped, 'rehearsal, live', 30);
    near(money?.draft, 30 * (uncapped + difference(prices, 'tides', rest.id, excluded)), 'rehearsal, draft', 30);
  };
  await fc.assert(fc.asyncProperty(books, property), { numRuns: 20 });
});
