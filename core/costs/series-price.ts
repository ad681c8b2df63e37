import { dayOf, monthOf } from './calendar.ts';
import { coinsOf, type Money, priceOfSeries } from './money.ts';
import type { PriceBook } from './price-book.ts';
import { compilePrices, type Prices } from './prices.ts';

/** What so many metric series cost on a day: its part of the month. */
export function costOfSeries(series: number, day: number, prices: Prices): Money {
  const month = monthOf(day);
  return priceOfSeries(series, prices.seriesPriceOn(day)) / BigInt(month.to - month.from);
}

/** Coins of a month for so many metric series, by the prices of a time (milliseconds). */
export function coinsOfSeries(book: PriceBook, series: number, at: number): number {
  return coinsOf(priceOfSeries(series, compilePrices(book).seriesPriceOn(dayOf(at))), book.currency.digits);
}
