import type { PlanDocument } from '#core/plan/document.ts';
import { addShadows, type Shadows } from '#core/rehearsal/shadows.ts';
import { readTape } from '#store/events/tape.ts';
import { retryRead } from '#store/retry-read.ts';
import { compiledPlan } from '../plans.ts';
import { currentShape, withShapes } from '../shapes.ts';
import { type TapePartTask, tapedBatches } from '../tape.ts';
import { workerDatabase } from '../worker-database.ts';

/** What tiers of some plans match of a part of the tape, and what tiers above them take of it. */
export interface ShadowsTask extends TapePartTask {
  readonly kind: 'shadows';
  readonly plans: readonly PlanDocument[];
}

/** The shadows of each plan. */
export async function shadows(task: ShadowsTask): Promise<readonly Shadows[]> {
  const { plans, chunks, standsFor, tables, fleets, now } = task;
  const compiled = await Promise.all(plans.map((plan) => compiledPlan(plan, tables)));
  const found = compiled.map((): Shadows => new Map());
  for (const raw of tapedBatches(await retryRead(() => readTape(workerDatabase(), chunks)), compiled, standsFor)) {
    const batch = withShapes(raw);
    const context = { now, currentShape, fleets: fleets.get(batch.source) ?? [] };
    compiled.forEach((plan, i) => {
      addShadows(found[i] as Shadows, plan, batch, context);
    });
  }
  return found;
}
