import type { ArrivalsTold } from '#core/consumers/arrivals.ts';
import type { EffectWriter, WriterSetting } from './writer.ts';

/** What came in is told to those who watch once it is stored; nothing of it is written. */
export const arrivals = ({ arrivals: hub }: WriterSetting): EffectWriter<ArrivalsTold> => ({
  write: async (_tx, told) => () => hub.tell(told),
});
