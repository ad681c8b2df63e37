import type { CapUse } from '#core/routing/allowances.ts';
import { addCapUse } from '#store/volume/cap-days.ts';
import type { EffectWriter } from './writer.ts';

/** What the days of tiers with caps took. */
export const caps = (): EffectWriter<readonly CapUse[]> => ({
  write: async (tx, uses) => {
    await addCapUse(tx, uses);
    return undefined;
  },
});
