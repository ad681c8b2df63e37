import type { KeyedDelivery } from '#core/consumers/keys.ts';
import { addDeliveries } from '#store/events/deliveries.ts';
import type { EffectWriter } from './writer.ts';

/** Keys come first: one that is there already ends the transaction before anything else was done. */
export const keys = (): EffectWriter<readonly KeyedDelivery[]> => ({
  write: async (tx, keyed, at) => {
    await addDeliveries(
      tx,
      keyed.map((delivery) => ({ ...delivery, at })),
    );
    return undefined;
  },
});
