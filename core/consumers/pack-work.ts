import { newStepMeasure, type StepMeasure } from '../pipelines/step-measures.ts';
import type { PlanWork } from './steps.ts';

/** What a plan did, as JSON. */
export interface PackedWork {
  readonly revision: number;
  readonly steps: Readonly<Record<string, StepMeasure>>;
}

/** Writes what a plan did as plain JSON values. */
export function packWork({ revision, steps }: PlanWork): PackedWork {
  return { revision, steps: Object.fromEntries(steps) };
}

/** Reads what {@link packWork} wrote; figures that were not known yet when it was written are 0. */
export function unpackWork({ revision, steps }: PackedWork): PlanWork {
  const measures = Object.entries(steps).map(([rule, measure]) => [rule, { ...newStepMeasure(), ...measure }] as const);
  return { revision, steps: new Map(measures) };
}
