import { newStepMeasure, type StepMeasure } from '../plan/step-measures.ts';
import type { Volume } from '../routing/volume.ts';
import type { PlanWork } from './steps.ts';

/** What a plan did, as JSON. */
export interface PackedWork {
  readonly revision: number;
  readonly steps: Readonly<Record<string, StepMeasure>>;
  readonly arrived: Volume;
  readonly kept: Volume;
  readonly parsed: Volume;
}

/** Writes what a plan did as plain JSON values. */
export function packWork({ steps, ...work }: PlanWork): PackedWork {
  return { ...work, steps: Object.fromEntries(steps) };
}

/** Reads what {@link packWork} wrote; figures that were not known yet when it was written are 0. */
export function unpackWork({ steps, ...work }: PackedWork): PlanWork {
  return {
    ...work,
    steps: new Map(Object.entries(steps).map(([rule, measure]) => [rule, { ...newStepMeasure(), ...measure }])),
  };
}
