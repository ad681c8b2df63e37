import type { ArrivalDeltas } from '#core/consumers/arrivals.ts';
import type { EffectWriter, WriterSetting } from './writer.ts';

/** What came in is sent to those who watch once it is stored; nothing of it is written. */
export const arrivals = ({ arrivals: hub }: WriterSetting): EffectWriter<ArrivalDeltas> => ({
  write: async (_tx, deltas) => () => hub.tell(deltas),
});
