import { addDelta } from '#store/sources/health-deltas.ts';
import type { EffectWriter, WriterSetting } from './writer.ts';

/** Who was heard, for all engines to learn from. */
export const heard = ({ engine, learning }: WriterSetting): EffectWriter<Uint8Array> => ({
  write: async (tx, data, at) => {
    const row = await addDelta(tx, { kind: 'heard', engine, at, data });
    return () => learning.committed(row.insertId, 'heard', data, at);
  },
});
