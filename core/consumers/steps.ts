import type { StepMeasures } from '../pipelines/step-measures.ts';
import type { Consumer } from './consumer.ts';

/** What each step of a revision did to live events. */
export interface PlanWork {
  readonly revision: number;
  readonly steps: StepMeasures;
}

/** What the steps of the plan did, as they were measured while the group was processed; nothing where none was. */
export const steps: Consumer<PlanWork> = {
  begin: (_plan, { revision, steps: measured }) => ({
    add: () => {},
    effect: () => (measured.size > 0 ? { revision, steps: measured } : undefined),
  }),
};
