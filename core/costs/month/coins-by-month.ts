import { coinsOfParts, type Money } from '../money.ts';
import { dayLength, dayOf, monthOf } from './calendar.ts';

/** What something came to in one calendar month (UTC). */
export interface MonthCoins {
  /** Such as `2026-12`. */
  readonly month: string;
  /** Days of the month that count, with fractions. */
  readonly days: number;
  /** Rounded so that all months add up to the whole. */
  readonly coins: number;
}

/** Amounts of days by calendar month, over the time from `from` to `to` (milliseconds); months without an amount have 0. */
export function coinsByMonth(
  ofDays: ReadonlyMap<number, Money>,
  { from, to }: { readonly from: number; readonly to: number },
  digits: number,
): readonly MonthCoins[] {
  const months: { readonly month: string; readonly days: number; amount: Money }[] = [];
  for (let day = dayOf(from); day * dayLength < to; day = monthOf(day).to) {
    const { from: first, to: end } = monthOf(day);
    const days = (Math.min(to, end * dayLength) - Math.max(from, first * dayLength)) / dayLength;
    let amount = 0n;
    for (const [start, money] of ofDays) if (dayOf(start) >= first && dayOf(start) < end) amount += money;
    months.push({ month: new Date(first * dayLength).toISOString().slice(0, 7), days, amount });
  }
  const coins = coinsOfParts(
    months.map(({ amount }) => amount),
    digits,
  );
  return months.map(({ month, days }, i) => ({ month, days, coins: coins[i] ?? 0 }));
}
