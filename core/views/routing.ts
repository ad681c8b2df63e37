import type { RoutingAnswer, TierContent } from '../answers/routing.ts';
import type { PlanDocument } from '../plan/document.ts';
import { isPastCap } from '../routing/cap.ts';
import { type Amount, amountOf, type VolumeSum } from './volumes.ts';

/**
 * What each tier of a plan received, what its exclusions removed (`sums` by outcome, tier and rule), what it holds, and what
 * of that is due within a day.
 */
export function routingView(
  plan: PlanDocument,
  sums: readonly VolumeSum[],
  contents: ReadonlyMap<string, TierContent>,
  due: ReadonlyMap<string, Amount>,
): RoutingAnswer {
  const pick = (outcomes: readonly string[], tier?: string) =>
    sums.filter((sum) => outcomes.includes(sum.outcome ?? '') && (tier === undefined || sum.tier === tier));
  const removed = ['excluded', 'sampled-out'];
  return {
    arrived: amountOf(sums),
    passing: amountOf(pick(['passing'])),
    rejected: amountOf(pick(['rejected', 'discarded'])),
    tiers: plan.tiers.map((tier) => ({
      id: tier.id,
      kept: amountOf(pick(['kept'], tier.id)),
      removed: amountOf(pick(removed, tier.id)),
      over: amountOf(sums.filter((sum) => isPastCap(sum, tier.id))),
      exclusions: (tier.exclusions ?? []).map(({ id }) => ({
        id,
        matched: amountOf(pick([...removed, 'kept'], tier.id).filter((sum) => sum.rule === id)),
        removed: amountOf(pick(removed, tier.id).filter((sum) => sum.rule === id)),
      })),
      holds: contents.get(tier.id) ?? null,
      due: due.get(tier.id) ?? { events: 0, bytes: 0 },
    })),
  };
}
