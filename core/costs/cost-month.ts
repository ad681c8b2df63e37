import type { BudgetView, CostMonthAnswer } from '../answers/costs.ts';
import { dayLength, dayOf, monthOf, textOfDay } from './calendar.ts';
import { type CostSetting, CostTable, wholeOf } from './cost-table.ts';
import { type DaySeries, firstDayOf } from './day-series.ts';
import { forecastDays } from './forecast.ts';
import { coinsOf, coinsOfParts, inCurrency, type Money } from './money.ts';
import type { Budget } from './price-book.ts';

/** How many days before today a forecast looks at. */
export const forecastReach = 56;

/** A time in a month as its parts. */
interface Moment {
  readonly from: number;
  readonly to: number;
  readonly today: number;
  /** How much of today is over, from 0 to 1. */
  readonly share: number;
}

/**
 * How the month of a time (milliseconds) stands: spent so far, its end, and its budgets. `series` are of all that may still lie
 * there and of the last {@link forecastReach} days.
 */
export function costMonth(series: readonly DaySeries[], setting: CostSetting, now: number): CostMonthAnswer {
  const today = dayOf(now);
  const moment: Moment = { ...monthOf(today), today, share: (now - today * dayLength) / dayLength };
  const { currency, budgets = [] } = setting.prices.book;
  const whole = courseOf(series, setting, moment);
  const digits = currency.digits;
  return {
    currency,
    from: moment.from * dayLength,
    to: moment.to * dayLength,
    days: coinsOfParts(whole.days, digits),
    spent: coinsOf(whole.spent, digits),
    end: whole.end
      ? {
          low: inCoins(whole.end.low, digits),
          middle: inCoins(whole.end.middle, digits),
          high: inCoins(whole.end.high, digits),
        }
      : null,
    toCome: whole.toCome.map((value) => inCoins(value, digits)),
    budgets: budgets.map((budget) => {
      const isOf = isWithin(budget, setting);
      const course = budget.team || budget.tier ? courseOf(series.filter(isOf), setting, moment) : whole;
      return budgetView(budget, course, moment, digits);
    }),
  };
}

interface MonthCourse {
  readonly days: readonly Money[];
  readonly spent: Money;
  /** In the currency. */
  readonly end: { readonly low: number; readonly middle: number; readonly high: number } | undefined;
  readonly toCome: readonly number[];
}

function courseOf(series: readonly DaySeries[], setting: CostSetting, { from, to, today, share }: Moment): MonthCourse {
  const first = firstDayOf(series) ?? today;
  const begin = Math.min(from, Math.max(today - forecastReach, first));
  const table = new CostTable(begin, today + 1, setting);
  for (const one of series) table.add('', one);
  const byDay = table.byDay().map(wholeOf);
  const days = byDay.slice(from - begin);
  const spent = days.reduce((sum, amount) => sum + amount, 0n);
  // The day on which everything began is no whole day, and before it there was nothing.
  const known = Math.max(begin, first + 1);
  const full = byDay.slice(known - begin, -1).map(inCurrency);
  const forecast = forecastDays(full, (index) => (known + index) % 7, to - today);
  if (!forecast) return { days, spent, end: undefined, toCome: [] };
  // Of today what is still to come: what it will have been less what it was, or its share where that is more.
  const [whole = 0, ...later] = forecast.byDay;
  const rest = Math.max(whole - inCurrency(days.at(-1) ?? 0n), whole * (1 - share) * 0.5);
  const toCome = [rest, ...later];
  const middle = toCome.reduce((sum, value) => sum + value, 0);
  const ratio = (edge: number): number => inCurrency(spent) + middle * (edge / forecast.middle || 1);
  return {
    days,
    spent,
    end: { low: ratio(forecast.low), middle: ratio(forecast.middle), high: ratio(forecast.high) },
    toCome,
  };
}

function isWithin({ team, tier }: Budget, { teamOf }: CostSetting): (series: DaySeries) => boolean {
  return (series) =>
    (team === undefined || teamOf(series.source) === team) && (tier === undefined || series.tier === tier);
}

function budgetView(budget: Budget, course: MonthCourse, { from, today }: Moment, digits: number): BudgetView {
  const days = [...course.days.map(inCurrency)];
  const last = days.length - 1;
  days[last] = (days[last] ?? 0) + (course.toCome[0] ?? 0);
  days.push(...course.toCome.slice(1));
  let sum = 0;
  const at = days.findIndex((value) => {
    sum += value;
    return sum >= budget.amount;
  });
  const isCrossed = inCurrency(course.spent) >= budget.amount;
  return {
    team: budget.team ?? null,
    tier: budget.tier ?? null,
    amount: inCoins(budget.amount, digits),
    spent: coinsOf(course.spent, digits),
    heading: course.end ? inCoins(course.end.middle, digits) : null,
    crossedOn: at >= 0 ? textOfDay(isCrossed ? Math.min(from + at, today) : from + at) : null,
  };
}

function inCoins(value: number, digits: number): number {
  return Math.round(value * 10 ** digits);
}
