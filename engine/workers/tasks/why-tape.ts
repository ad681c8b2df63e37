import { conditionOf } from '#core/conditions/condition.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { holdingTier } from '#core/routing/holding-tier.ts';
import { type RoutedBatch, seededRandom } from '#core/routing/route.ts';
import type { ComparedPeriods } from '#core/why/periods.ts';
import { readTape } from '#store/events/tape.ts';
import { retryRead } from '#store/retry-read.ts';
import { compiledPlan } from '../plans.ts';
import { currentShape, withShapes } from '../shapes.ts';
import { type TapePartTask, tapedBatches } from '../tape.ts';
import { workerDatabase } from '../worker-database.ts';
import { gatheredEvents, type SampledPart } from './sampled-part.ts';

/** A part of the tape of which events are compared, kept or not. */
export interface WhyTapeTask extends TapePartTask {
  readonly kind: 'whyTape';
  readonly plan: PlanDocument;
  readonly condition: string;
  readonly times: ComparedPeriods;
  /** Fields that the measure needs, even if they are unique; in lower case. */
  readonly measured: ReadonlySet<string>;
}

/** The matching events of the compared periods, with the fields that a plan gives them and the tiers that have them. */
export async function whyTape(task: WhyTapeTask): Promise<readonly SampledPart[]> {
  const plan = await compiledPlan(task.plan, task.tables);
  const condition = conditionOf(task.condition);
  const parts: SampledPart[] = [];
  for (const raw of tapedBatches(
    await retryRead(() => readTape(workerDatabase(), task.chunks)),
    [plan],
    task.standsFor,
  )) {
    const fleets = task.fleets.get(raw.source) ?? [];
    const routed = plan.run(withShapes(raw), { now: task.now, currentShape, fleets, random: seededRandom(1) });
    for (const tier of new Set(routed.fates.map(holdingTier))) {
      const context = { tier, now: task.now, currentShape, fleets };
      parts.push(...partsIn(tier, routed, condition.test(routed.arrived, context), task));
    }
  }
  return parts;
}

/** The events of a batch that a tier has, by period; `mask` marks those that match. */
function partsIn(
  tier: string,
  { arrived, fates, fateOf }: RoutedBatch,
  mask: Uint8Array,
  { times, measured }: WhyTapeTask,
): readonly SampledPart[] {
  const isHere = fates.map((fate) => holdingTier(fate) === tier);
  return [times.since, ...times.before].flatMap(({ from, to }, period) => {
    const rows: number[] = [];
    for (let row = 0; row < mask.length; row++) {
      const at = arrived.received[row] as number;
      if (mask[row] === 1 && isHere[fateOf[row] as number] && at >= from && at < to) rows.push(row);
    }
    if (rows.length === 0) return [];
    return [{ tier, period, standsFor: 1, ...gatheredEvents(arrived, Int32Array.from(rows), measured) }];
  });
}
