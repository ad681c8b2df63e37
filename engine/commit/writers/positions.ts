import type { ReadProgress } from '#core/consumers/progress.ts';
import { guardLease } from '#store/cluster/leases.ts';
import { saveProgress } from '#store/sources/positions.ts';
import type { EffectWriter } from './writer.ts';

/** How far readers came; only those who have the lease of their source may say so. */
export const positions = (): EffectWriter<readonly ReadProgress[]> => ({
  write: async (tx, progress) => {
    const leases = new Map(progress.flatMap(({ lease }) => (lease ? [[lease.name, lease] as const] : [])));
    for (const lease of leases.values()) await guardLease(tx, lease);
    await saveProgress(tx, progress);
    return undefined;
  },
});
