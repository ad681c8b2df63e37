import type { MetricAnswer, MetricsAnswer, MetricTrialAnswer, MetricView } from '#core/answers/metrics.ts';
import type { Currency, PriceBook } from '#core/costs/book/price-book.ts';
import { coinsOfSeries } from '#core/costs/series-price.ts';
import { day } from '#core/events/time-units.ts';
import { keptFrom } from '#core/metrics/levels.ts';
import { measures } from '#core/metrics/measures/index.ts';
import { levelOf, type MetricWindow, metricWindow, type WindowTable } from '#core/metrics/metric-window.ts';
import { operations } from '#core/operations/index.ts';
import { besideLive } from '#core/plan/beside-live.ts';
import { checkPlan } from '#core/plan/check.ts';
import { emptyOf, keyName, limitOf, measureOf, metricKeep, pointsName } from '#core/plan/parts/metrics/metric.ts';
import type { EmptyValue, MetricDocument } from '#core/plan/parts/metrics/metrics-shape.ts';
import type { PlanProblem } from '#core/plan/plan-problem.ts';
import type { Database } from '#store/database.ts';
import { findMetricFill } from '#store/metrics/metric-fills.ts';
import { findMetric } from '#store/metrics/metrics.ts';
import { beginFill } from '../metrics/metric-fill.ts';
import { lineOf } from '../metrics/metric-line.ts';
import { isReadable, readMetric } from '../metrics/metric-reader.ts';
import { metricBegin, metricRevisions } from '../metrics/metric-revisions.ts';
import { metricSeries } from '../metrics/metric-series.ts';
import { designedPlan, livePlan } from '../plan/stored-plans.ts';
import { runMetricTrial } from '../search/run-metric-trial.ts';
import { usedMetrics } from '../usage/uses.ts';
import { timeOf } from './explore/search.ts';
import { command, question } from './handler.ts';
import { namesIn } from './names-in.ts';
import { Refusal } from './refusal.ts';
import type { OperationServices } from './services.ts';

/** Between two points of the last day in a list, in milliseconds. */
const trendStep = 1_800_000;
/** Most lines of a chart. */
const mostLines = 20;

export const metrics = question(operations.metrics, async (_input, services): Promise<MetricsAnswer> => {
  const { database } = services;
  const now = Date.now();
  const { plan, isDraft } = await designedPlan(database.db);
  const live = isDraft ? (await livePlan(database.db)).plan : plan;
  const book = (await services.costs.book())?.book;
  const series = await metricSeries(database, live, now);
  const views = await Promise.all(
    besideLive(plan.metrics ?? [], live.metrics ?? []).map(({ thing: metric, state }) => {
      const { series: count, grown } = series.get(metric.id) ?? { series: 0, grown: undefined };
      const coins = book ? coinsOfSeries(book, count, now) : 0;
      return viewOf(services, metric, { state, series: count, grownKey: grown?.key ?? '', coins }, now);
    }),
  );
  const all = [...series.values()].reduce((sum, one) => sum + one.series, 0);
  return {
    isDraft,
    currency: seriesCurrency(book),
    metrics: views,
    series: all,
    coins: book ? coinsOfSeries(book, all, now) : 0,
    measures: [...measures.values()].map(({ name, title, help, field }) => ({ name, title, help, field })),
  };
});

async function viewOf(
  services: OperationServices,
  metric: MetricDocument,
  known: Pick<MetricView, 'state' | 'series' | 'grownKey' | 'coins'>,
  now: number,
): Promise<MetricView> {
  // The step that is running yet is left out: it would look like a fall.
  const window = metricWindow(now - day, Math.floor(now / trendStep) * trendStep, now, day / trendStep);
  const reading = { window, figure: '', by: [], most: 0 };
  const table = isReadable(metric) ? await readMetric(services, metric, reading) : undefined;
  return {
    id: metric.id,
    name: metric.name,
    help: metric.help ?? '',
    when: metric.when,
    measure: metric.measure,
    of: metric.of ?? '',
    by: metric.by ?? [],
    unit: metric.unit ?? '',
    empty: emptyOf(metric),
    limit: limitOf(metric),
    keep: metricKeep(metric),
    ...known,
    figure: measures.get(metric.measure)?.figures[0]?.name ?? '',
    trend: table ? lineOf(table.whole, emptyOf(metric)).values : [],
  };
}

export const metric = question(operations.metric, async (asked, services): Promise<MetricAnswer> => {
  const { database } = services;
  const now = Date.now();
  const live = (await livePlan(database.db)).plan;
  const found = live.metrics?.find(({ id }) => id === asked.id);
  if (!found) throw new Refusal(404, '', 'The live plan has no metric of this id.');
  const window = metricWindow(timeOf(asked.from, now), timeOf(asked.to, now), now);
  if (window.to <= window.from) throw new Refusal(400, '', 'The window ends before it begins.');
  const keys = (found.by ?? []).map(keyName);
  const by = namesIn(asked.by);
  const unknown = by.find((name) => !keys.includes(name));
  if (unknown !== undefined) throw new Refusal(400, '', `${found.name} is not kept by ${unknown}.`);
  const { figures } = measureOf(found);
  const figure = asked.figure === '' ? figures[0]?.name : figures.find(({ name }) => name === asked.figure)?.name;
  if (figure === undefined) {
    const known = figures.map(({ name }) => name).join(', ');
    throw new Refusal(400, '', `${found.name} has no figure ${asked.figure}; it has ${known}.`);
  }
  const table = await readMetric(services, found, { window, figure, by, most: mostLines });
  services.usage.note(usedMetrics([found.id], window.from, now));
  const earlier = asked.before === 'yes' ? windowBefore(window, now) : undefined;
  const before = earlier && (await readMetric(services, found, { window: earlier, figure, by: [], most: 0 }));
  const empty = emptyOf(found);
  return {
    id: found.id,
    name: found.name,
    unit: found.unit ?? '',
    when: found.when,
    figure,
    figures: figures.map(({ name }) => name),
    ...{ ...window, keys, by },
    isRunning: window.to > now,
    ...linesOf(table, window, empty),
    before: before ? lineOf(before.whole, empty) : null,
    ...(await fillOf(database, found)),
    revisions: await metricRevisions(database, found.id),
  };
});

/** When a metric began, and how far it was filled in from before. */
async function fillOf(database: Database, metric: MetricDocument): Promise<Pick<MetricAnswer, 'begun' | 'fill'>> {
  const number = await findMetric(database.db, metric.id, pointsName(metric));
  const fill = number === undefined ? undefined : await findMetricFill(database.db, number);
  const begun = (await metricBegin(database, metric))?.at ?? null;
  const from = fill && Math.min(fill.next, begun ?? fill.next);
  return { begun, fill: fill && from !== undefined ? { from, isDone: fill.isDone } : null };
}

export const fillMetric = command(operations.fillMetric, {
  subject: ({ id }) => id,
  carryOut: async ({ id }, { tx, now, services: { database } }) => {
    const metric = (await livePlan(tx)).plan.metrics?.find((one) => one.id === id);
    if (!metric) throw new Refusal(404, '', 'The live plan has no metric of this id.');
    const begin = await metricBegin(database, metric);
    if (!begin)
      throw new Refusal(
        409,
        '',
        'It is older than the revisions that are checked, or was removed in between: events would count twice.',
      );
    const number = await findMetric(tx, metric.id, pointsName(metric));
    if (number !== undefined && (await findMetricFill(tx, number)))
      throw new Refusal(409, '', 'It was filled in already, or is being filled in: events would count twice.');
    await beginFill(tx, metric, begin.revision, now);
    return {};
  },
});

/** As long a window before another one; undefined where it is kept more coarsely already. */
function windowBefore({ from, to, every }: MetricWindow, now: number): MetricWindow | undefined {
  const before = { from: from - (to - from), to: from, every };
  return before.from >= keptFrom(levelOf(before), now) ? before : undefined;
}

function linesOf(
  table: WindowTable | undefined,
  { from, to, every }: MetricWindow,
  empty: EmptyValue,
): Pick<MetricAnswer, 'whole' | 'lines' | 'others' | 'otherCount'> {
  const nothing = {
    labels: [],
    values: Array.from({ length: Math.round((to - from) / every) }, () => null),
    all: null,
  };
  if (!table) return { whole: nothing, lines: [], others: null, otherCount: 0 };
  return {
    whole: lineOf(table.whole, empty),
    lines: table.groups.map((group) => lineOf(group, empty)),
    others: table.others && lineOf(table.others, empty),
    otherCount: table.otherCount,
  };
}

export const tryMetric = question(operations.tryMetric, async ({ metric: given }, services, { signal }) => {
  const { database } = services;
  const checked = checkPlan({ plan: 1, metrics: [given] });
  const drafted = checked.ok ? checked.plan.metrics?.[0] : undefined;
  const problems = checked.ok ? [] : checked.problems.map(ofMetric);
  const { plan } = await designedPlan(database.db);
  // What else is wrong with the draft is no fault of the metric.
  const tried = checkPlan(plan).ok ? plan : (await livePlan(database.db)).plan;
  const now = Date.now();
  const book = (await services.costs.book())?.book;
  const coinsOf = (series: number): number => (book ? coinsOfSeries(book, series, now) : 0);
  const answer: MetricTrialAnswer = await runMetricTrial({ ...services, plan: tried, signal }, drafted, coinsOf, now);
  return { ...answer, currency: seriesCurrency(book), problems };
});

/** A problem of a plan that has one metric alone, by its place in the metric. */
function ofMetric({ path, message }: PlanProblem): PlanProblem {
  return { path: path.replace(/^metrics\[0\]\.?/, ''), message };
}

/** The currency where series have a price; null where they have none. */
function seriesCurrency(book: PriceBook | undefined): Currency | null {
  return book?.entries.some(({ series = 0 }) => series > 0) ? book.currency : null;
}
