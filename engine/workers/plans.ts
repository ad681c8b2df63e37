import { checkPlan } from '#core/plan/check.ts';
import { type CompiledPlan, compilePlan } from '#core/plan/compile.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { StepResources } from '#core/steps/step.ts';
import { LookupTables } from './lookup-tables.ts';
import { placeOf } from './places.ts';
import { workerDatabase, workerHash } from './worker-database.ts';

/** Plans compiled lately, by their text: live and draft, and those of a moment ago. */
const compiled = new Map<string, CompiledPlan>();
const mostCompiled = 6;

const tables = new LookupTables(workerDatabase);

/** A plan cannot be made ready: it is wrong, or its tables cannot be read. */
export class PlanUnready extends Error {
  override readonly name = 'PlanUnready';
}

/** Steps look tables up by name when they run, so a table that was changed counts from the next group of events on. */
const resources: StepResources = { table: (name) => tables.get(name), place: placeOf, hash: workerHash() };

/**
 * A plan ready to run in this thread. `current` says when each table was changed; what is out of date is read anew. Throws
 * {@link PlanUnready}.
 */
export async function compiledPlan(
  document: PlanDocument,
  current: Readonly<Record<string, number>>,
): Promise<CompiledPlan> {
  await tables.refresh(current).catch((error: unknown) => {
    throw new PlanUnready(error instanceof Error ? error.message : 'its tables cannot be read');
  });
  const text = JSON.stringify(document);
  let plan = compiled.get(text);
  if (!plan) {
    const checked = checkPlan(document);
    if (!checked.ok) throw new PlanUnready(checked.problems[0]?.message ?? 'the plan is wrong');
    if (compiled.size >= mostCompiled) compiled.clear();
    compiled.set(text, (plan = compilePlan(checked.plan, resources)));
  }
  return plan;
}
