import type { NewSegment } from '#core/segments/segment.ts';
import { insertSegments } from '#store/events/segments.ts';
import type { EffectWriter } from './writer.ts';

/** What tiers store. */
export const segments = (): EffectWriter<readonly NewSegment[]> => ({
  write: async (tx, added) => {
    await insertSegments(tx, added);
    return undefined;
  },
});
