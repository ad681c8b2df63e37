import { addToCatalogue, type CataloguePartial, newCatalogue } from '#core/fields/catalogue.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { readTape } from '#store/events/tape.ts';
import { retryRead } from '#store/retry-read.ts';
import { compiledPlan } from '../plans.ts';
import { tapedBatches } from '../tape.ts';
import { workerDatabase } from '../worker-database.ts';

/** Taped chunks to be run through a plan, to see which fields come out. */
export interface CatalogueTask {
  readonly kind: 'catalogue';
  readonly plan: PlanDocument;
  readonly chunks: readonly number[];
  /** For how many taped records each of these stands. */
  readonly standsFor: number;
  readonly tables: Readonly<Record<string, number>>;
  readonly now: number;
}

/** The fields that a plan makes of taped events. */
export async function catalogue(task: CatalogueTask): Promise<CataloguePartial> {
  const partial = newCatalogue();
  const plan = await compiledPlan(task.plan, task.tables);
  for (const raw of tapedBatches(
    await retryRead(() => readTape(workerDatabase(), task.chunks)),
    [plan],
    task.standsFor,
  ))
    addToCatalogue(partial, plan.run(raw, { now: task.now, random: () => 0 }).batch);
  return partial;
}
