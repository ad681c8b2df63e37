import type { ArrivalsTold } from '#core/consumers/arrivals.ts';
import type { EffectWriter, WriterSetting } from './writer.ts';

/** What came in is sent to those who watch once it is stored; nothing of it is written. */
export const arrivals = ({ arrivals: hub }: WriterSetting): EffectWriter<ArrivalsTold> => ({
  write: async (_tx, reported) => () => hub.tell(reported),
});
