'use client';

import { useCallback } from 'react';
import type { Currency } from '#core/costs/book/price-book.ts';
import { formatCoins } from '#core/costs/format-coins.ts';
import { day } from '#core/events/time-units.ts';
import { Chart, type Palette } from '../../charts/chart.tsx';
import { timeAxes } from '../../charts/time-axes.ts';
import type { CostMonthAnswer } from '../../data/answers.ts';
import { monthInWords } from '../../kit/times/month-in-words.ts';
import { WhySpan } from '../../parts/why-span.tsx';
import { wholeBudget } from './whole-budget.ts';

interface Month {
  readonly month: CostMonthAnswer;
  readonly currency: Currency;
  /** Whose costs alone; empty for all. */
  readonly team: string;
}

/** What the month came to, day by day, and what it will come to, against its budget. */
export function MonthChart({ month, currency, team }: Month) {
  const option = useCallback(
    (palette: Palette) => monthPicture({ month, currency, team }, palette),
    [month, currency, team],
  );
  const end = month.end ? `, heading for ${formatCoins(month.end.middle, currency)}` : '';
  return (
    <Chart
      label={`${monthInWords(month.from)}: ${formatCoins(month.spent, currency)} spent${end}`}
      height={230}
      option={option}
      {...(team === '' && { spanActions: (span) => <WhySpan condition="" measure="cost" {...span} /> })}
    />
  );
}

/** Points at the ends of days that follow a time, each with the sum so far. */
function summedUp(from: number, days: readonly number[], begin: number): (readonly [number, number])[] {
  let sum = begin;
  return days.map((coins, i) => {
    sum += coins;
    return [from + (i + 1) * day, sum] as const;
  });
}

/** Spent so far, the forecast with its range, and the budget. */
function monthPicture({ month, currency, team }: Month, palette: Palette) {
  const { from, to, days, toCome, end } = month;
  const budget = wholeBudget(month, team);
  const spent = summedUp(from, days, 0).map(([time, sum]) => [Math.min(time, Date.now()), sum] as const);
  const now = spent.at(-1) ?? [from, 0];
  const ahead = end ? summedUp(from + (days.length - 1) * day, toCome, now[1]) : [];
  const edge = (last: number) => ahead.map(([time, value]) => [time, now[1] + (value - now[1]) * last] as const);
  const rest = Math.max(1e-9, (ahead.at(-1)?.[1] ?? 0) - now[1]);
  const low = edge(((end?.low ?? 0) - now[1]) / rest);
  const high = edge(((end?.high ?? 0) - now[1]) / rest);
  const axes = timeAxes(palette, (coins) => formatCoins(coins, currency), { right: 150 });
  const line = { type: 'line', symbol: 'none' } as const;
  // The two labels at the right keep out of each other's way.
  const isOver = (end?.middle ?? 0) >= (budget?.amount ?? 0);
  return {
    ...axes,
    xAxis: { ...axes.xAxis, min: from, max: to },
    series: [
      {
        ...line,
        name: 'spent',
        data: [[from, 0], ...spent],
        lineStyle: { color: palette.depth[5], width: 2 },
        areaStyle: { color: palette.depth[2], opacity: 0.6 },
      },
      { ...line, name: 'at least', stack: 'band', data: low, lineStyle: { opacity: 0 }, tooltip: { show: false } },
      {
        ...line,
        name: 'at most, above that',
        stack: 'band',
        data: high.map(([time, value], i) => [time, value - (low[i]?.[1] ?? 0)]),
        lineStyle: { opacity: 0 },
        areaStyle: { color: palette.depth[0], opacity: 0.9 },
      },
      {
        ...line,
        name: 'forecast',
        data: end ? [now, ...ahead] : [],
        lineStyle: { color: palette.depth[5], width: 1.5, type: 'dashed' },
        endLabel: {
          show: end !== null,
          formatter: `heading for ${formatCoins(end?.middle ?? 0, currency)}`,
          color: palette.ink,
          fontWeight: 650,
          verticalAlign: isOver ? 'bottom' : 'top',
        },
      },
      {
        ...line,
        name: 'budget',
        data: budget
          ? [
              [from, budget.amount],
              [to, budget.amount],
            ]
          : [],
        lineStyle: { color: palette.mark, width: 1.2 },
        endLabel: {
          show: budget !== undefined,
          formatter: `budget ${formatCoins(budget?.amount ?? 0, currency)}`,
          color: palette.mark,
          verticalAlign: isOver ? 'top' : 'bottom',
        },
      },
    ],
  };
}
