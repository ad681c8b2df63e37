import type { Currency } from './book/price-book.ts';
import type { CostParts, CostSetting } from './cost-table.ts';
import type { DaySeries } from './day-series.ts';
import { dayOf } from './month/calendar.ts';
import { type FlowVolume, type KeepOf, LifetimePrices } from './retention/lifetime.ts';

/** Other prices and retentions than those of now. */
export interface PricedAs {
  /** Prices of this time (milliseconds). */
  readonly at?: number | undefined;
  /** How long tiers keep. */
  readonly keepOf?: KeepOf | undefined;
}

/** What volume costs from when it arrives until it is gone (see {@link LifetimePrices}), to put beside it. */
export interface VolumePrices {
  readonly currency: Currency;
  readonly costOf: (flow: FlowVolume, as?: PricedAs) => CostParts;
}

/** Prices of volume by what costs are reckoned from; `now` in milliseconds. */
export function volumePrices(of: CostSetting, series: readonly DaySeries[], now: number): VolumePrices {
  const days = new Map<number, LifetimePrices>();
  return {
    currency: of.prices.book.currency,
    costOf: (flow, { at = now, keepOf } = {}) => {
      let prices = days.get(dayOf(at));
      if (!prices) days.set(dayOf(at), (prices = new LifetimePrices(of, series, at)));
      return prices.costOf(flow, keepOf);
    },
  };
}
