import { formatCoins } from '../format-coins.ts';
import { dayOfText } from '../month/calendar.ts';
import type { Currency, PriceBook, PriceEntry } from './price-book.ts';

/** Prices that came into force on a day. */
export interface PriceChange {
  readonly day: number;
  readonly text: string;
}

const units = [
  ['received', 'a GB received'],
  ['stored', 'a GB stored for a month'],
  ['series', 'a series for a month'],
  ['scanned', 'a GB scanned'],
  ['archived', 'a GB archived'],
  ['sent', 'a GB sent on'],
] as const;

/** What a book's entries changed in a stretch of days (`from` up to `to`), in words. */
export function priceChanges({ entries, currency }: PriceBook, from: number, to: number): readonly PriceChange[] {
  return entries.flatMap((entry, i) => {
    const day = dayOfText(entry.from);
    if (day < from || day >= to) return [];
    return [{ day, text: entryInWords(entries[i - 1], entry, currency) }];
  });
}

function entryInWords(before: PriceEntry | undefined, entry: PriceEntry, currency: Currency): string {
  if (!before) return 'the first prices hold';
  const words = units.flatMap(([rate, unit]) => {
    const [old, now] = [before[rate] ?? 0, entry[rate] ?? 0];
    return old === now ? [] : [`${unit} ${inWords(old, currency)} → ${inWords(now, currency)}`];
  });
  const parts = [
    ['kept', 'events kept by days'],
    ['discount', 'the discount'],
    ['own', 'own rates'],
  ] as const;
  const others = parts.flatMap(([part, title]) =>
    JSON.stringify(before[part] ?? null) === JSON.stringify(entry[part] ?? null) ? [] : [`${title} changed`],
  );
  const all = [...words, ...others];
  return all.length > 0 ? all.join(', ') : 'the same prices hold';
}

/** A price, with its coins; finer ones as they are. */
function inWords(price: number, currency: Currency): string {
  const coins = price * 10 ** currency.digits;
  if (Math.abs(coins - Math.round(coins)) < 1e-9) return formatCoins(Math.round(coins), currency);
  return `${formatCoins(0, currency).replace(/0$/, '')}${price}`;
}
