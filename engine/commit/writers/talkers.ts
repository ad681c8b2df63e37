import { addTalkerDeltas } from '#store/metrics/talkers.ts';
import type { EffectWriter } from './writer.ts';

/** What comes for rankings; it is put where it belongs a little later (`foldTalkers`). */
export const talkers = (): EffectWriter<Uint8Array> => ({
  write: async (tx, data) => {
    await addTalkerDeltas(tx, data);
    return undefined;
  },
});
