import { compileRanking, readyRankings } from '../plan/parts/rankings/ranking.ts';
import { RankedBatch } from '../talkers/ranked-batch.ts';
import { TalkerTake } from '../talkers/talker-take.ts';
import { packToldTalkers } from '../talkers/told-talkers.ts';
import type { Consumer } from './consumer.ts';

const ready = readyRankings.map(compileRanking);

/** Rankings of who contributes most to everything that arrives, whatever becomes of it, packed (`unpackToldTalkers`). */
export const talkers: Consumer<Uint8Array> = {
  begin: (plan, { now, currentShape }) => {
    const takes = [...ready, ...plan.rankings].map((ranking) => new TalkerTake(ranking));
    return {
      add: ({ delivery: { fleets, rewoundAt }, routed: { arrived } }) => {
        if (arrived.rows === 0) return;
        const context = { now, ...(fleets && { fleets }), ...(currentShape && { currentShape }) };
        const ranked = new RankedBatch(arrived, context, rewoundAt);
        for (const take of takes) take.add(ranked);
      },
      effect: () => {
        const told = takes.filter(({ slots }) => slots.length > 0);
        return told.length > 0 ? packToldTalkers(told) : undefined;
      },
    };
  },
  bytesOf: (packed) => [packed],
};
