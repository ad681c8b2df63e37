import type { CapsAnswer } from '#core/answers/caps.ts';
import { coinsLess } from '#core/costs/coins-saved.ts';
import { flowOf } from '#core/costs/retention/lifetime.ts';
import type { VolumePrices } from '#core/costs/volume-prices.ts';
import { operations } from '#core/operations/index.ts';
import type { VolumeSum } from '#core/routing/volume-sums.ts';
import { question } from '../handler.ts';

export const caps = question(operations.caps, async (_input, services): Promise<CapsAnswer> => {
  const now = Date.now();
  const [{ views, suggestions }, prices] = await Promise.all([services.caps(now), services.costs.prices(now)]);
  return {
    currency: prices?.currency ?? null,
    caps: views.map(({ pastCap, ...view }) => ({
      ...view,
      saves: prices ? savedByCap(pastCap, view.tier, prices) : 0,
    })),
    suggestions,
  };
});

/** Coins that what went past a tier's cap costs less than if the tier had kept it. */
function savedByCap(over: readonly VolumeSum[], tier: string, prices: VolumePrices): number {
  const met = over.map(flowOf);
  return coinsLess(
    met.map((flow) => ({ ...flow, outcome: 'kept', tier })),
    met,
    prices,
  );
}
