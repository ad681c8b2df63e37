import type { OverviewAnswer, StageFiguresAnswer } from '#core/answers/overview.ts';
import { day, hour } from '#core/events/time-units.ts';
import { operations } from '#core/operations/index.ts';
import { amountOf } from '#core/routing/volume-sums.ts';
import { isAboutBudget } from '#core/views/attention.ts';
import { daySharesOf, overviewView } from '#core/views/overview.ts';
import { sumLedger } from '#store/volume/ledger.ts';
import { metricSeries } from '../metrics/metric-series.ts';
import { question } from './handler.ts';

export const overview = question(operations.overview, async (_input, services): Promise<OverviewAnswer> => {
  const now = Date.now();
  const { database, plan } = services;
  const { plan: document, revision } = plan.current();
  const midnight = Math.floor(now / day) * day;
  const [lastDay, slices, attention, prices, tiersByAge] = await Promise.all([
    services.lastDay(now),
    sumLedger(database, { from: midnight - 13 * day, to: now + hour }, ['source', 'outcome', 'tier'], day),
    services.status.attention(now),
    services.costs.prices(now),
    services.costs.reader.tiersByAge(),
  ]);
  return {
    ...overviewView(lastDay, slices, { plan: document, tiersByAge }, prices),
    attention,
    revision,
    at: now,
  };
});

export const stageFigures = question(operations.stageFigures, async (_input, services): Promise<StageFiguresAnswer> => {
  const now = Date.now();
  const { database, plan, status } = services;
  const [lastDay, contents, attention, month, series] = await Promise.all([
    services.lastDay(now),
    status.contents(now),
    status.attention(now),
    services.costs.month(now),
    metricSeries(database, plan.current().plan, now),
  ]);
  const ofCosts = attention.filter(isAboutBudget).length;
  const ofRouting = attention.filter((item) => item.tier !== undefined && !isAboutBudget(item)).length;
  const ofMetrics = attention.filter(({ metric }) => metric !== undefined).length;
  const ofParsing = attention.filter(({ kind }) => kind === 'parse-failures' || kind === 'set-aside').length;
  return {
    at: now,
    eventsPerSecond: services.health.rates(now).reduce((sum, rate) => sum + rate.events, 0),
    arrived: amountOf(lastDay).events,
    ...daySharesOf(lastDay),
    storedEvents: contents.reduce((sum, tier) => sum + tier.events, 0),
    series: [...series.values()].reduce((sum, metric) => sum + metric.series, 0),
    revision: plan.current().revision,
    month: month.currency && {
      currency: month.currency,
      coins: month.end?.middle ?? month.spent,
      isForecast: month.end !== null,
    },
    needs: {
      sources: attention.length - ofParsing - ofRouting - ofMetrics - ofCosts,
      parsing: ofParsing,
      routing: ofRouting,
      metrics: ofMetrics,
      costs: ofCosts,
    },
  };
});
