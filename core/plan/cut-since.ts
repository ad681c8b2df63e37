import type { EventBatch } from '../events/batch.ts';
import { gather } from '../events/select.ts';
import type { RouteContext, RoutedBatch } from '../routing/route.ts';
import type { CompiledPlan } from './compile.ts';

/**
 * Runs a plan over a batch of raw events and leaves out those that turn out to be older than `since` (milliseconds), as if
 * they had not come; without it, all count.
 */
export function runSince(
  plan: CompiledPlan,
  batch: EventBatch,
  context: RouteContext,
  since: number | undefined,
): RoutedBatch {
  const routed = plan.run(batch, context);
  if (since === undefined || routed.batch.time.every((time) => time >= since)) return routed;
  const rows = Int32Array.from(
    [...routed.batch.time.keys()].filter((row) => (routed.batch.time[row] as number) >= since),
  );
  // Where steps changed which rows there are, the parsed batch is cut and routed once more, else the raw one.
  if (routed.batch.rows !== batch.rows)
    return plan.route(gather(batch.source, [{ batch: routed.batch, rows }]), context);
  return plan.run(gather(batch.source, [{ batch, rows }]), context);
}
