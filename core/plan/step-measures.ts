/** What one step did. */
export interface StepMeasure {
  /** Events that it was applied to. */
  events: number;
  /** Those that it could not handle. */
  failed: number;
  /** Time it took, in milliseconds. */
  milliseconds: number;
  /** Events of the batches that were weighed, and by how many bytes they grew (less than 0: shrank). */
  weighedEvents: number;
  weighedGrowth: number;
}

/** What the steps of a plan did, by rule (`pipeline/number`). Plain data. */
export type StepMeasures = Map<string, StepMeasure>;

export function newStepMeasure(): StepMeasure {
  return { events: 0, failed: 0, milliseconds: 0, weighedEvents: 0, weighedGrowth: 0 };
}

/** Adds what a step did to its entry. */
export function addStepMeasure(measures: StepMeasures, rule: string, added: StepMeasure): void {
  let held = measures.get(rule);
  if (!held) measures.set(rule, (held = newStepMeasure()));
  held.events += added.events;
  held.failed += added.failed;
  held.milliseconds += added.milliseconds;
  held.weighedEvents += added.weighedEvents;
  held.weighedGrowth += added.weighedGrowth;
}
