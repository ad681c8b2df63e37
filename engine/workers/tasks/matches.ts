import { conditionOf } from '#core/conditions/condition.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { addMatches, type Matches, newMatches } from '#core/rehearsal/matches.ts';
import { readTape } from '#store/events/tape.ts';
import { compiledPlan } from '../plans.ts';
import { currentShape, withShapes } from '../shapes.ts';
import { type TapePartTask, tapedBatches } from '../tape.ts';
import { workerDatabase } from '../worker-database.ts';

/** A condition that is asked about a part of the tape. */
export interface MatchesTask extends TapePartTask {
  readonly kind: 'matches';
  /** Cut off where the condition is asked. */
  readonly plan: PlanDocument;
  readonly condition: string;
  readonly tier: string | undefined;
  /** Whether it is asked about what the tier takes, rather than about what comes as far as it. */
  readonly within: boolean;
  /** Conditions that are asked before this one, and those of readers. */
  readonly before: readonly string[];
  readonly readers: readonly string[];
}

/** What the condition matches. */
export async function matches(task: MatchesTask): Promise<Matches> {
  const plan = await compiledPlan(task.plan, task.tables);
  const { tier, within, now, fleets } = task;
  const [before, readers] = [task.before.map(conditionOf), task.readers.map(conditionOf)];
  const asked = {
    plan,
    condition: conditionOf(task.condition),
    before,
    readers,
    tier,
    within,
    now,
    currentShape,
    fleets,
  };
  const found = newMatches(readers.length);
  for (const batch of tapedBatches(await readTape(workerDatabase(), task.chunks), [plan], task.standsFor))
    addMatches(found, asked, withShapes(batch));
  return found;
}
