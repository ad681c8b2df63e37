/** What one step did. */
export interface StepMeasure {
  /** Events that it was applied to. */
  events: number;
  /** Those that it could not handle. */
  failed: number;
  /** Events of the groups that were large enough for the clock, and the time that they took in milliseconds. */
  timedEvents: number;
  milliseconds: number;
  /** Events of the batches that were weighed, and by how many bytes they grew (less than 0: shrank). */
  weighedEvents: number;
  weighedGrowth: number;
}

/** What the steps of a plan did, by rule (`pipeline/number`). Plain data. */
export type StepMeasures = Map<string, StepMeasure>;

/** Fewest events of a group whose time is taken: what a step takes for a handful is mostly the getting ready. */
export const fewestTimed = 256;

/** Fewest timed events from which the time of a step is taken. */
const enoughTimed = 2_000;

/** Microseconds that a step takes for an event; undefined where too few have been timed to tell. */
export function stepTime({ timedEvents, milliseconds }: StepMeasure): number | undefined {
  return timedEvents < enoughTimed ? undefined : (milliseconds / timedEvents) * 1_000;
}

export function newStepMeasure(): StepMeasure {
  return { events: 0, failed: 0, timedEvents: 0, milliseconds: 0, weighedEvents: 0, weighedGrowth: 0 };
}

/** Adds what a step did to its entry. */
export function addStepMeasure(measures: StepMeasures, rule: string, added: StepMeasure): void {
  let measure = measures.get(rule);
  if (!measure) measures.set(rule, (measure = newStepMeasure()));
  measure.events += added.events;
  measure.failed += added.failed;
  measure.timedEvents += added.timedEvents;
  measure.milliseconds += added.milliseconds;
  measure.weighedEvents += added.weighedEvents;
  measure.weighedGrowth += added.weighedGrowth;
}
