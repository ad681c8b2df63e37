import { wholeOf } from '../costs/cost-table.ts';
import { coinsOf } from '../costs/money.ts';
import type { VolumePrices } from '../costs/volume-prices.ts';

/** What an event costs until it expires, in coins. */
export interface EventPrice {
  readonly perEvent: number;
  /** For each byte as it arrived. */
  readonly perByte: number;
}

/** A source and the tier that keeps its events. */
export interface SourceTier {
  readonly source: string;
  readonly tier: string;
}

/** Prices by source and tier. Plain data, so that threads can share them. */
export type EventPrices = ReadonlyMap<string, EventPrice>;

/** Prices are computed for this many events and bytes, because coins of one are rounded. */
const many = 1e12;

/** Today's prices of events by source and tier; each pair once. */
export function eventPrices(pairs: Iterable<SourceTier>, { costOf, currency }: VolumePrices): EventPrices {
  const prices = new Map<string, EventPrice>();
  for (const pair of pairs) {
    const key = keyOf(pair);
    if (prices.has(key)) continue;
    const coins = (events: number, bytes: number): number =>
      coinsOf(wholeOf(costOf({ ...pair, outcome: 'kept', events, bytes })), currency.digits) / many;
    prices.set(key, { perEvent: coins(many, 0), perByte: coins(0, many) });
  }
  return prices;
}

const free: EventPrice = { perEvent: 0, perByte: 0 };

/** The price of an event; nothing for an unknown source or tier. */
export function eventPriceOf(prices: EventPrices | undefined, pair: SourceTier): EventPrice {
  return prices?.get(keyOf(pair)) ?? free;
}

function keyOf({ source, tier }: SourceTier): string {
  return `${source}\n${tier}`;
}
