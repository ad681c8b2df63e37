import type { Consumer } from './consumer.ts';

/** A delivery that came under a key, and how many of its records were accepted and rejected. */
export interface KeyedDelivery {
  readonly source: string;
  readonly key: string;
  readonly accepted: number;
  readonly rejected: number;
}

/** The keys of deliveries, so that one that is repeated is not stored again. */
export const keys: Consumer<readonly KeyedDelivery[]> = {
  begin: () => {
    const keyed: KeyedDelivery[] = [];
    return {
      add: ({ delivery: { source, key }, read: { batch, rejected } }) => {
        if (key !== undefined) keyed.push({ source, key, accepted: batch.rows, rejected });
      },
      effect: () => (keyed.length > 0 ? keyed : undefined),
    };
  },
};
