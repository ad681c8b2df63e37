import type { Currency } from '#core/costs/book/price-book.ts';
import { formatCoins } from '#core/costs/format-coins.ts';
import { hour } from '#core/events/time-units.ts';
import { formatBytes, formatCount, parseDuration } from '#core/events/units.ts';
import type { PricedAmount } from '#core/routing/volume-sums.ts';

/** Describes what an override keeps and costs over a span such as `4h`, given what it keeps beyond the plan in an hour. */
export function untilItsEnd(
  { events, bytes, coins }: PricedAmount,
  span: string,
  currency: Currency | undefined,
): string {
  const hours = (parseDuration(span) ?? 0) / hour;
  const money = currency && coins > 0 ? moneyOf(coins * hours, currency) : undefined;
  if (events * hours < 0.5) {
    return money === undefined
      ? 'at the rate of the last 24 h it would keep nothing more'
      : `at the rate of the last 24 h it would keep nothing more, but for longer: ${money} by its end`;
  }
  const more = `keeps ≈ ${formatBytes(bytes * hours)}, ${formatCount(Math.round(events * hours))} events more by its end`;
  return `${more}${money === undefined ? '' : `, which cost ${money}`}, at the rate of the last 24 h`;
}

function moneyOf(coins: number, currency: Currency): string {
  return coins < 0.5 ? `less than ${formatCoins(1, currency, true)}` : `≈ ${formatCoins(coins, currency, true)}`;
}
