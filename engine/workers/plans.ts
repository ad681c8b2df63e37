import { LRUCache } from 'lru-cache';
import { checkPlan } from '#core/plan/check.ts';
import { type CompiledPlan, compilePlan } from '#core/plan/compile.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { nothingSwitched, type Switched, withSwitched } from '#core/plan/postures.ts';
import type { StepResources } from '#core/steps/step.ts';
import { planOfRevision } from '../plan/stored-plans.ts';
import { LookupTables } from './lookup-tables.ts';
import { placeOf } from './places.ts';
import { workerDatabase, workerHash } from './worker-database.ts';

/** Plans of the revisions that were live lately, as they are while what is named behind their numbers is switched. */
const live = new LRUCache<string, CompiledPlan>({ max: 6 });

/** Plans compiled lately, by their text: drafts, and what they are rehearsed beside. */
const compiled = new LRUCache<string, CompiledPlan>({ max: 6 });

const tables = new LookupTables(workerDatabase);

/** A plan cannot be made ready: it is wrong, or its tables cannot be read. */
export class PlanUnready extends Error {
  override readonly name = 'PlanUnready';
}

/** Steps look tables up by name when they run, so a table that was changed counts from the next group of events on. */
const resources: StepResources = { table: (name) => tables.get(name), place: placeOf, hash: workerHash };

/**
 * A plan ready to run in this thread. `current` says when each table was changed; what is out of date is read anew. Throws
 * {@link PlanUnready}.
 */
export async function compiledPlan(
  document: PlanDocument,
  current: Readonly<Record<string, number>>,
): Promise<CompiledPlan> {
  await refreshTables(current);
  const text = JSON.stringify(document);
  let plan = compiled.get(text);
  if (!plan) compiled.set(text, (plan = compiledOf(document)));
  return plan;
}

/**
 * The plan of a revision ready to run in this thread, as it is while some of it is switched; it is read and compiled once.
 * Throws {@link PlanUnready}.
 */
export async function livePlan(
  revision: number,
  current: Readonly<Record<string, number>>,
  switched: Switched,
): Promise<CompiledPlan> {
  await refreshTables(current);
  const key = `${revision} ${JSON.stringify(switched)}`;
  let plan = live.get(key);
  if (!plan) {
    const stored = await planOfRevision(workerDatabase().db, revision).catch(() => undefined);
    if (!stored) throw new PlanUnready(`revision ${revision} of the plan cannot be read`);
    live.set(key, (plan = compiledOf(stored, switched)));
  }
  return plan;
}

async function refreshTables(current: Readonly<Record<string, number>>): Promise<void> {
  await tables.refresh(current).catch((error: unknown) => {
    throw new PlanUnready(error instanceof Error ? error.message : 'its tables cannot be read');
  });
}

function compiledOf(document: unknown, switched: Switched = nothingSwitched): CompiledPlan {
  const checked = checkPlan(document);
  if (!checked.ok) throw new PlanUnready(checked.problems[0]?.message ?? 'the plan is wrong');
  return compilePlan(withSwitched(checked.plan, switched), resources);
}
