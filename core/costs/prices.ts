import type { KeptPoint, PriceBook, PriceEntry, Rates } from './book/price-book.ts';
import { millionths } from './money.ts';
import { dayLength, dayOfText } from './month/calendar.ts';

/** Prices in millionths of the currency. */
export interface CompiledRates {
  /** For 10⁹ bytes received. */
  readonly received: number;
  /** For a million events that are kept for so many days. */
  readonly keptFor: (days: number) => number;
  /** For 10⁹ bytes that are stored for a month. */
  readonly stored: number;
}

/** A price book, ready to be asked. */
export interface Prices {
  readonly book: PriceBook;
  /** The rates on a day for what comes from a team to a tier; nothing costs anything before the first entry. */
  readonly ratesOn: (day: number, team: string, tier: string) => CompiledRates;
  /** For a metric series for a month, on a day, in millionths of the currency. */
  readonly seriesPriceOn: (day: number) => number;
  /** What holds on a day; undefined before the first entry. */
  readonly entryOn: (day: number) => PriceEntry | undefined;
}

const free: CompiledRates = { received: 0, keptFor: () => 0, stored: 0 };

/** Takes a price book apart; it has to be checked. */
export function compilePrices(book: PriceBook): Prices {
  const entries = book.entries.map((entry) => ({ entry, from: dayOfText(entry.from), known: new Map() }));
  const at = (day: number) => entries.findLast(({ from }) => from <= day);
  const ratesOn = (day: number, team: string, tier: string): CompiledRates => {
    const found = at(day);
    if (!found) return free;
    const key = `${team}\n${tier}`;
    let rates: CompiledRates | undefined = found.known.get(key);
    if (!rates) found.known.set(key, (rates = compiled(ratesFor(found.entry, team, tier))));
    return rates;
  };
  const seriesPriceOn = (day: number): number => Math.round((at(day)?.entry.series ?? 0) * millionths);
  return { book, ratesOn, seriesPriceOn, entryOn: (day) => at(day)?.entry };
}

/** The rates of an entry for a team and a tier: own ones, where the first that fits names them. */
function ratesFor(entry: PriceEntry, team: string, tier: string): Rates {
  const own = (entry.own ?? []).filter((rates) => {
    return (rates.team ?? team) === team && (rates.tier ?? tier) === tier;
  });
  return {
    received: own.find(({ received }) => received !== undefined)?.received ?? entry.received,
    kept: own.find(({ kept }) => kept !== undefined)?.kept ?? entry.kept,
    stored: own.find(({ stored }) => stored !== undefined)?.stored ?? entry.stored,
  };
}

function compiled({ received = 0, kept = [], stored = 0 }: Rates): CompiledRates {
  return {
    received: Math.round(received * millionths),
    keptFor: (days) => onCurve(kept, days),
    stored: Math.round(stored * millionths),
  };
}

/**
 * The price of a curve for some days, in millionths, the half one rounded up: straight between two points, flat beyond the
 * ends. Exact, to the millisecond: a price halfway between two millionths is the same wherever it is reckoned.
 */
export function onCurve(points: readonly KeptPoint[], days: number): number {
  const next = points.findIndex((point) => point.days >= days);
  const [before, after] = [points[next < 0 ? points.length - 1 : next - 1], points[next]];
  if (!before || !after) return Math.round(((before ?? after)?.price ?? 0) * millionths);
  const time = (value: number): bigint => BigInt(Math.round(value * dayLength));
  const price = (point: KeptPoint): bigint => BigInt(Math.round(point.price * millionths));
  const [since, until, length] = [
    time(days) - time(before.days),
    time(after.days) - time(days),
    time(after.days) - time(before.days),
  ];
  return Number((2n * (price(before) * until + price(after) * since) + length) / (2n * length));
}
