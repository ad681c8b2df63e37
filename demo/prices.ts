import type { PriceBook } from '#core/costs/book/price-book.ts';
import { dayOf, monthOf, textOfDay } from '#core/costs/month/calendar.ts';

/** About what a day of the Skerry Line costs by its prices, in crowns. */
const crownsADay = 17.4;

/** The prices of the Skerry Line, with a rise five days after its history begins (milliseconds), and a budget that is a little short. */
export function demoPrices(begin: number, now: number): PriceBook {
  const rates = {
    kept: [
      { days: 3, price: 18 },
      { days: 15, price: 32 },
      { days: 400, price: 80 },
    ],
    stored: 800,
    series: 0.05,
  };
  const { from, to } = monthOf(dayOf(now));
  const days = to - Math.max(from, dayOf(begin));
  return {
    prices: 1,
    currency: { sign: 'cr', digits: 2 },
    entries: [
      { from: textOfDay(dayOf(begin) - 60), received: 280, ...rates },
      {
        from: textOfDay(dayOf(begin) + 5),
        received: 320,
        ...rates,
        own: [{ tier: 'audit', stored: 500 }],
      },
    ],
    budgets: [
      { amount: Math.round(days * crownsADay * 0.093) * 10 },
      { amount: Math.round(days * crownsADay * 0.04) * 10, team: 'booking' },
    ],
  };
}
