import { addMetricDeltas } from '#store/metrics/metrics.ts';
import type { EffectWriter } from './writer.ts';

/** What comes for derived metrics; it is put where it belongs a little later (`MetricFolding`). */
export const metrics = (): EffectWriter<readonly Uint8Array[]> => ({
  write: async (tx, pieces) => {
    for (const piece of pieces) await addMetricDeltas(tx, piece);
    return undefined;
  },
});
