import type { VolumePrices } from '#core/costs/volume-prices.ts';

/** Prices, and when their book was saved (milliseconds). */
export interface ShownPrices extends VolumePrices {
  readonly savedAt: number;
}
