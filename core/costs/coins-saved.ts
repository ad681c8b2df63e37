import { wholeOf } from './cost-table.ts';
import { coinsOf } from './money.ts';
import type { FlowVolume } from './retention/lifetime.ts';
import type { VolumePrices } from './volume-prices.ts';

/** Coins that volume of tiers costs less where it is excluded than where its tiers keep it; `times`: how often it comes. */
export function coinsSaved(flows: readonly FlowVolume[], prices: VolumePrices, times = 1): number {
  const as = (outcome: string) => flows.map((flow) => ({ ...flow, outcome }));
  return coinsLess(as('kept'), as('excluded'), prices, times);
}

/** The precision of unrounded coins: a millionth. */
const partsOfCoin = 1_000_000;

/** As {@link coinsSaved}, but not rounded to whole coins: for amounts that are scaled before they are shown. */
export function exactCoinsSaved(flows: readonly FlowVolume[], prices: VolumePrices): number {
  return coinsSaved(flows, prices, partsOfCoin) / partsOfCoin;
}

/** Coins that what volume met costs less than what it would have met instead; what is stored of either is as it usually is. */
export function coinsLess(
  instead: readonly FlowVolume[],
  met: readonly FlowVolume[],
  { costOf, currency }: VolumePrices,
  times = 1,
): number {
  const cost = (flows: readonly FlowVolume[]): bigint =>
    flows.reduce((all, flow) => all + wholeOf(costOf({ ...flow, stored: undefined })), 0n);
  return coinsOf((cost(instead) - cost(met)) * BigInt(times), currency.digits);
}
