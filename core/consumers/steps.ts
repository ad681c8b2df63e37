import type { StepMeasures } from '../plan/step-measures.ts';
import { addVolume, newVolume, type Volume } from '../routing/volume.ts';
import type { Consumer } from './consumer.ts';

/** What a revision did to live events: what each of its steps did, and what became of them. */
export interface PlanWork {
  readonly revision: number;
  readonly steps: StepMeasures;
  readonly arrived: Volume;
  readonly kept: Volume;
  readonly parsed: Volume;
}

/** A revision that has done nothing yet; `steps` are the measures of its steps. */
export function newWork(revision: number, steps: StepMeasures): PlanWork {
  return { revision, steps, arrived: newVolume(), kept: newVolume(), parsed: newVolume() };
}

/** Events that arrived longer ago than this (milliseconds) are history, and say nothing about a revision. */
const liveFor = 120_000;

/** What the plan did: measures of its steps and its effect, for live events only. */
export const steps: Consumer<PlanWork> = {
  begin: (_plan, { now, revision, steps: measured }) => {
    const work = newWork(revision, measured);
    return {
      add: ({ routed }) => {
        for (const entry of routed.ledger) {
          if (entry.start <= now - liveFor) continue;
          addVolume(work.arrived, entry);
          if (entry.outcome === 'kept') addVolume(work.kept, entry);
          if (entry.parsed) addVolume(work.parsed, entry);
        }
      },
      effect: () => (work.arrived.events > 0 || measured.size > 0 ? work : undefined),
    };
  },
};
