import { compileRanking, readyRankings } from '../plan/parts/rankings/ranking.ts';
import { RankedBatch } from '../talkers/ranked-batch.ts';
import { TalkerAccumulator } from '../talkers/talker-accumulator.ts';
import { packTalkerDeltas } from '../talkers/talker-delta.ts';
import type { Consumer } from './consumer.ts';

const ready = readyRankings.map(compileRanking);

/** Rankings of who contributes most to everything that arrives, whatever becomes of it, packed (`unpackTalkerDeltas`). */
export const talkers: Consumer<Uint8Array> = {
  begin: (plan, { now, currentShape }) => {
    const accumulators = [...ready, ...plan.rankings].map((ranking) => new TalkerAccumulator(ranking));
    return {
      add: ({ delivery: { fleets, rewoundAt }, routed: { arrived } }) => {
        if (arrived.rows === 0) return;
        const context = { now, ...(fleets && { fleets }), ...(currentShape && { currentShape }) };
        const ranked = new RankedBatch(arrived, context, rewoundAt);
        for (const accumulator of accumulators) accumulator.add(ranked);
      },
      effect: () => {
        const filled = accumulators.filter(({ slots }) => slots.length > 0);
        return filled.length > 0 ? packTalkerDeltas(filled) : undefined;
      },
    };
  },
  bytesOf: (packed) => [packed],
};
