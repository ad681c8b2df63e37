import type { PriceBook } from './book/price-book.ts';
import { coinsOf, type Money, priceOfSeries } from './money.ts';
import { dayOf, monthOf } from './month/calendar.ts';
import { compilePrices, type Prices } from './prices.ts';

/** What so many metric series cost in a whole month, by the prices of a day. */
export function seriesPriceOfMonth(series: number, day: number, prices: Prices): Money {
  return priceOfSeries(series, prices.seriesPriceOn(day));
}

/** What so many metric series cost on a day: its part of the month. */
export function costOfSeries(series: number, day: number, prices: Prices): Money {
  const month = monthOf(day);
  return seriesPriceOfMonth(series, day, prices) / BigInt(month.to - month.from);
}

/** Coins of a month for so many metric series, by the prices of a time (milliseconds). */
export function coinsOfSeries(book: PriceBook, series: number, at: number): number {
  return coinsOf(seriesPriceOfMonth(series, dayOf(at), compilePrices(book)), book.currency.digits);
}
