import { type ReadPipeline, type ReadPlan, readPipeline, readPlan } from '#core/plan/plan-text.ts';

/** The text of a plan, or of one pipeline under the key `pipeline`. */
export interface PlanTextTask {
  readonly text: string;
}

/** What a text says; it is read apart from everything else, since its writer decides how long that takes. */
export type PlanTextAnswer = ReadPlan | ReadPipeline;

/** Reads the text of a plan or of one pipeline. */
export default function readText({ text }: PlanTextTask): PlanTextAnswer {
  return /^pipeline:/m.test(text) ? readPipeline(text) : readPlan(text);
}
