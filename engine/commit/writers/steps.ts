import { packWork } from '#core/consumers/pack-work.ts';
import type { PlanWork } from '#core/consumers/steps.ts';
import { addDelta } from '#store/sources/health-deltas.ts';
import type { EffectWriter, WriterSetting } from './writer.ts';

/** What the plan did, for all engines to learn from. */
export const steps = ({ engine, learning }: WriterSetting): EffectWriter<PlanWork> => ({
  write: async (tx, work, at) => {
    const data = new TextEncoder().encode(JSON.stringify(packWork(work)));
    const row = await addDelta(tx, { kind: 'steps', engine, at, data });
    return () => learning.committed(row.insertId, 'steps', data, at);
  },
});
