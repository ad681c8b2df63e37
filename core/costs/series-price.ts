import { dayOf, dayOfText } from './calendar.ts';
import type { PriceBook } from './price-book.ts';

/** Coins of a month for so many metric series, by the prices of a time (milliseconds). */
export function coinsOfSeries({ entries, currency }: PriceBook, series: number, at: number): number {
  const entry = [...entries].reverse().find(({ from }) => dayOfText(from) <= dayOf(at)) ?? entries[0];
  return Math.round(series * (entry?.series ?? 0) * 10 ** currency.digits);
}
