import type { Budget, Currency } from '../book/price-book.ts';
import { type CostSetting, CostTable, wholeOf } from '../cost-table.ts';
import { type DaySeries, firstDayOf, volumeBetween } from '../day-series.ts';
import { coinsOf, coinsOfParts, inCurrency, type Money } from '../money.ts';
import { daysOfMonth, LifetimePrices } from '../retention/lifetime.ts';
import { costOfSeries, seriesPriceOfMonth } from '../series-price.ts';
import { dayLength, dayOf, monthOf, textOfDay } from './calendar.ts';
import { type VolumeToCome, volumeToCome } from './volume-to-come.ts';

/** Days of volume that a full month goes by. */
const week = 7;

/** A time in a month as its parts; of a month that is over, its very end. */
interface Moment {
  readonly from: number;
  readonly to: number;
  readonly today: number;
  /** How much of today is over, from 0 to 1. */
  readonly share: number;
  readonly isOver: boolean;
}

/** A budget, and how it stands. */
export interface BudgetView {
  /** Whose it is: a team's, a fleet's, a tier's, or for all where all are null. */
  readonly team: string | null;
  readonly fleet: string | null;
  readonly tier: string | null;
  /** In coins. */
  readonly amount: number;
  readonly spent: number;
  /** What it comes to by the end of the month; null where too little is known. */
  readonly heading: number | null;
  /** The day on which it is crossed, `2026-11-28`: one that was, or is to be; null for none. */
  readonly crossedOn: string | null;
  /** The day on which half of it was spent; null where it is not. */
  readonly halfOn: string | null;
}

/** A month as far as it follows from volume and prices. */
export interface CostMonth {
  /** Null where there is no price book, or money is turned off. */
  readonly currency: Currency | null;
  /** The first of the month, and of the next one, in milliseconds. */
  readonly from: number;
  readonly to: number;
  /** Coins of each day so far; of today what it came to until now. */
  readonly days: readonly number[];
  readonly spent: number;
  /** What the month comes to, in coins, with the range that nine of ten forecasts end in; null where too little is known. */
  readonly end: { readonly low: number; readonly middle: number; readonly high: number } | null;
  /**
   * Coins of 30 days at the volume of the last full week, once every tier is full; null with less than a full week of data, and
   * for a month that is over.
   */
  readonly fullMonth: number | null;
  /** Expected coins of the days to come, the rest of today first. */
  readonly toCome: readonly number[];
  /** Those of the book that holds now. */
  readonly budgets: readonly BudgetView[];
  /** Whether the month is over: then all is spent, and nothing to come. */
  readonly isOver: boolean;
}

/** A month that is asked for by one of its days, and whose costs: a team's, or everybody's. */
export interface AskedMonth {
  readonly day?: number | undefined;
  readonly team?: string | undefined;
}

/**
 * What a month comes to as of a time (milliseconds), that of the time itself where none is asked for: spent so far, its end, and its
 * budgets. `series` are of all that may still lie there and of the days that {@link volumeToCome} goes by.
 */
export function costMonth(
  series: readonly DaySeries[],
  setting: CostSetting,
  now: number,
  { day, team }: AskedMonth = {},
): CostMonth {
  const moment = momentOf(now, day);
  const { currency, budgets = [] } = setting.prices.book;
  const all = team === undefined ? series : series.filter(isWithin({ team }, setting));
  const volume = courseOf(all, setting, moment);
  // Metric series belong to no team.
  const whole = team === undefined ? withMetricSeries(volume, setting, moment) : volume;
  const digits = currency.digits;
  return {
    currency,
    from: moment.from * dayLength,
    to: moment.to * dayLength,
    isOver: moment.isOver,
    days: coinsOfParts(whole.days, digits),
    spent: coinsOf(whole.spent, digits),
    end: whole.end
      ? {
          low: inCoins(whole.end.low, digits),
          middle: inCoins(whole.end.middle, digits),
          high: inCoins(whole.end.high, digits),
        }
      : null,
    fullMonth: moment.isOver ? null : fullMonth(all, setting, now, team === undefined),
    toCome: whole.toCome.map((value) => inCoins(value, digits)),
    budgets: budgets
      .filter((budget) => team === undefined || budget.team === team)
      .map((budget) => {
        const isOfPart = budget.team || budget.fleet || budget.tier;
        const course = isOfPart ? courseOf(series.filter(isWithin(budget, setting)), setting, moment) : whole;
        return budgetView(budget, course, moment, digits);
      }),
  };
}

/**
 * Coins of 30 days like those of the last full week once every tier is full, by the prices and retentions of today: what a
 * rehearsal and a change of retention are compared with. Null with less than a full week of data.
 */
function fullMonth(
  series: readonly DaySeries[],
  setting: CostSetting,
  now: number,
  withSeries: boolean,
): number | null {
  const today = dayOf(now);
  const first = firstDayOf(series);
  if (first === undefined || first > today - week) return null;
  const prices = new LifetimePrices(setting, series, now);
  const ofWeek = series.reduce((sum, one) => sum + wholeOf(prices.costOf(volumeBetween(one, today - week, today))), 0n);
  const ofSeries = withSeries ? seriesPriceOfMonth(setting.seriesOn(today), today, setting.prices) : 0n;
  return coinsOf((ofWeek * BigInt(daysOfMonth)) / BigInt(week) + ofSeries, setting.prices.book.currency.digits);
}

function momentOf(now: number, asked: number | undefined): Moment {
  const today = dayOf(now);
  const month = monthOf(asked ?? today);
  if (month.to <= today) return { ...month, today: month.to - 1, share: 1, isOver: true };
  return { ...month, today, share: (now - today * dayLength) / dayLength, isOver: false };
}

interface MonthCourse {
  readonly days: readonly Money[];
  readonly spent: Money;
  /** In the currency. */
  readonly end: { readonly low: number; readonly middle: number; readonly high: number } | undefined;
  readonly toCome: readonly number[];
}

function courseOf(
  series: readonly DaySeries[],
  setting: CostSetting,
  { from, to, today, share, isOver }: Moment,
): MonthCourse {
  const days = dailyCosts(series, setting, from, today + 1);
  const spent = sumOf(days);
  if (isOver) return { days, spent, end: undefined, toCome: [] };
  const expected = volumeToCome(series, { today, to, share });
  if (!expected) return { days, spent, end: undefined, toCome: [] };
  // Events that are already stored cost storage until they expire.
  const stored = dailyCosts(series, setting, today, to);
  // The costs of today so far are part of `spent`.
  stored[0] = 0n;
  const added = dailyCosts(expected.series, withExpected(setting, today, expected), today, to);
  const certain = inCurrency(spent + sumOf(stored));
  const expectedCost = inCurrency(sumOf(added));
  return {
    days,
    spent,
    end: {
      low: certain + expectedCost * expected.low,
      middle: certain + expectedCost,
      high: certain + expectedCost * expected.high,
    },
    toCome: added.map((amount, at) => inCurrency(amount + (stored[at] ?? 0n))),
  };
}

/** The cost of each day from `from` to before `to`. */
function dailyCosts(series: readonly DaySeries[], setting: CostSetting, from: number, to: number): Money[] {
  const table = new CostTable(from, to, setting);
  for (const one of series) table.add('', one);
  return table.byDay().map(wholeOf);
}

function sumOf(amounts: readonly Money[]): Money {
  return amounts.reduce((sum, amount) => sum + amount, 0n);
}

/** The setting with the expected total added to what was received, as discounts depend on the total. */
function withExpected(setting: CostSetting, today: number, { factors, averaged }: VolumeToCome): CostSetting {
  let week = 0;
  for (let day = today - averaged; day < today; day++) week += setting.receivedOn(day);
  const average = week / averaged;
  return {
    ...setting,
    receivedOn: (day) => setting.receivedOn(day) + Math.round(average * (factors[day - today] ?? 0)),
  };
}

/** A course with what metric series cost: those of today go on to the end of the month. */
function withMetricSeries(
  { days, spent, end, toCome }: MonthCourse,
  { prices, seriesOn }: CostSetting,
  { from, today }: Moment,
): MonthCourse {
  const series = days.map((_, at) => costOfSeries(seriesOn(from + at), from + at, prices));
  // Of today they are paid for.
  const goingOn = toCome.map((_, at) => (at === 0 ? 0n : costOfSeries(seriesOn(today), today + at, prices)));
  const spentOnSeries = series.reduce((sum, amount) => sum + amount, 0n);
  const more = inCurrency(goingOn.reduce((sum, amount) => sum + amount, spentOnSeries));
  return {
    days: days.map((amount, at) => amount + (series[at] ?? 0n)),
    spent: spent + spentOnSeries,
    end: end && { low: end.low + more, middle: end.middle + more, high: end.high + more },
    toCome: toCome.map((value, at) => value + inCurrency(goingOn[at] ?? 0n)),
  };
}

function isWithin(
  { team, fleet, tier }: Omit<Budget, 'amount'>,
  { teamOf, fleetsOf }: CostSetting,
): (series: DaySeries) => boolean {
  return (series) =>
    (team === undefined || teamOf(series.source) === team) &&
    (fleet === undefined || fleetsOf(series.source).includes(fleet)) &&
    (tier === undefined || series.tier === tier);
}

function budgetView(budget: Budget, course: MonthCourse, { from, today }: Moment, digits: number): BudgetView {
  const days = [...course.days.map(inCurrency)];
  const last = days.length - 1;
  days[last] = (days[last] ?? 0) + (course.toCome[0] ?? 0);
  days.push(...course.toCome.slice(1));
  const at = dayWith(days, budget.amount);
  const half = dayWith(course.days.map(inCurrency), budget.amount / 2);
  const isCrossed = inCurrency(course.spent) >= budget.amount;
  return {
    team: budget.team ?? null,
    fleet: budget.fleet ?? null,
    tier: budget.tier ?? null,
    amount: inCoins(budget.amount, digits),
    spent: coinsOf(course.spent, digits),
    heading: course.end ? inCoins(course.end.middle, digits) : null,
    crossedOn: at >= 0 ? textOfDay(isCrossed ? Math.min(from + at, today) : from + at) : null,
    halfOn: half >= 0 ? textOfDay(from + half) : null,
  };
}

/** The first of some days by which so much was spent; -1 where it never is. */
function dayWith(days: readonly number[], amount: number): number {
  let sum = 0;
  return days.findIndex((value) => {
    sum += value;
    return sum >= amount;
  });
}

function inCoins(value: number, digits: number): number {
  return Math.round(value * 10 ** digits);
}
