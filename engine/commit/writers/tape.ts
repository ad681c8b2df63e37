import type { NewTapeChunk } from '#core/consumers/tape.ts';
import { addToTape } from '#store/events/tape.ts';
import type { EffectWriter } from './writer.ts';

/** The tape. */
export const tape = (): EffectWriter<readonly NewTapeChunk[]> => ({
  write: async (tx, chunks) => {
    await addToTape(tx, chunks);
    return undefined;
  },
});
