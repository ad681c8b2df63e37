import { conditionOf } from '#core/conditions/condition.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { seededRandom } from '#core/routing/route.ts';
import { addShapeUses, type ShapeUses } from '#core/suggestions/shape-uses.ts';
import { readTape } from '#store/events/tape.ts';
import { retryRead } from '#store/retry-read.ts';
import { compiledPlan } from '../plans.ts';
import { currentShape, withShapes } from '../shapes.ts';
import { type TapePartTask, tapedBatches } from '../tape.ts';
import { workerDatabase } from '../worker-database.ts';

/** A part of the tape of which it is found out what is kept of each kind of line, and who reads it. */
export interface ShapeUsesTask extends TapePartTask {
  readonly kind: 'shapeUses';
  readonly plan: PlanDocument;
  /** The conditions of those who read. */
  readonly readers: readonly string[];
}

/** What is kept of each kind of line, and who reads it. */
export async function shapeUses(task: ShapeUsesTask): Promise<ShapeUses> {
  const { now, fleets } = task;
  const plan = await compiledPlan(task.plan, task.tables);
  const readers = task.readers.map(conditionOf);
  const uses: ShapeUses = new Map();
  for (const raw of tapedBatches(
    await retryRead(() => readTape(workerDatabase(), task.chunks)),
    [plan],
    task.standsFor,
  )) {
    const context = { now, currentShape, fleets: fleets.get(raw.source) ?? [] };
    const batch = withShapes(raw);
    addShapeUses(uses, plan.run(batch, { ...context, random: seededRandom(1) }), readers, context);
  }
  return uses;
}
