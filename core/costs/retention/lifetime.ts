import { holdingTier } from '../../routing/holding-tier.ts';
import type { VolumeSum } from '../../routing/volume-sums.ts';
import { type DiscountShare, discounted, discountOn } from '../book/discount.ts';
import type { CostParts, CostSetting } from '../cost-table.ts';
import type { DaySeries } from '../day-series.ts';
import { priceOf, priceOfByte, priceOfByteDay, priceOfEvent } from '../money.ts';
import { dayLength, dayOf } from '../month/calendar.ts';
import { StoredShares } from './stored-shares.ts';

/** Days of a month where it is none of the calendar. */
export const daysOfMonth = 30;

/** Volume from a source that met one fate. */
export interface FlowVolume {
  readonly source: string;
  /** Empty where none took it. */
  readonly tier: string;
  readonly outcome: string;
  readonly events: number;
  readonly bytes: number;
  /** Bytes in the store; undefined where that is not known: as much of the bytes as was stored in the last days. */
  readonly stored?: number | undefined;
}

/** A sum of the ledger by source, outcome and tier as a flow. */
export function flowOf({ source = '', tier = '', outcome = '', events, bytes, stored }: VolumeSum): FlowVolume {
  return { source, tier, outcome, events, bytes, stored };
}

/** For how long a tier keeps, in milliseconds. */
export type KeepOf = (tier: string) => number;

/**
 * What volume costs from when it arrives until it is gone, by the prices and retentions of one day: receiving it, keeping its
 * events, and each day on which it is stored, as the thirtieth part of a month. Where the same comes every day, a day
 * costs that much once everything has its age.
 */
export class LifetimePrices {
  private shares: StoredShares | undefined;
  private readonly discount: DiscountShare;
  private readonly day: number;

  /** `now` in milliseconds; from the last days of `series` it is taken how much of what arrives is stored. */
  constructor(
    private readonly of: CostSetting,
    private readonly series: readonly DaySeries[],
    now: number,
  ) {
    this.day = dayOf(now);
    this.discount = discountOn(this.day, of.prices, of.receivedOn);
  }

  /** `keepOf`: how long tiers keep, where it is not as it is on that day. */
  costOf(flow: FlowVolume, keepOf: KeepOf = (tier) => this.of.retention.keepOn(tier, this.day)): CostParts {
    const { source, outcome, events, bytes } = flow;
    const tier = holdingTier(flow);
    const rates = this.of.prices.ratesOn(this.day, this.of.teamOf(source), tier);
    const days = keepOf(tier) / dayLength;
    const stored = flow.stored ?? bytes * this.shareStored(source, tier);
    return {
      received: discounted(priceOf(bytes, priceOfByte(rates.received)), this.discount),
      kept: outcome === 'kept' ? priceOf(events, priceOfEvent(rates.keptFor(days))) : 0n,
      stored: priceOf(stored * days, priceOfByteDay(rates.stored, daysOfMonth)),
      series: 0n,
    };
  }

  private shareStored(source: string, tier: string): number {
    this.shares ??= new StoredShares(this.series, this.day);
    return this.shares.of(source, tier);
  }
}
