import type { RoutingAnswer, TierContent } from '../answers/routing.ts';
import { coinsSaved } from '../costs/coins-saved.ts';
import { daysOfMonth, flowOf } from '../costs/retention/lifetime.ts';
import type { VolumePrices } from '../costs/volume-prices.ts';
import type { PlanDocument } from '../plan/document.ts';
import { isPastCap } from '../routing/cap.ts';
import { type Amount, amountOf, type VolumeSum } from '../routing/volume-sums.ts';
import { exclusionKey } from './exclusion-begins.ts';

/** What is known of the tiers of a plan besides the ledger's sums. */
export interface RoutingFacts {
  /** What each tier holds, by its id. */
  readonly contents: ReadonlyMap<string, TierContent>;
  /** What of that is due within a day, by the id of the tier. */
  readonly due: ReadonlyMap<string, Amount>;
  /** Absent where nothing has a price. */
  readonly prices?: VolumePrices | undefined;
  /** When exclusions younger than a day began (milliseconds), by {@link exclusionKey}. */
  readonly begins?: ReadonlyMap<string, number>;
}

/**
 * What each tier of a plan received, what its exclusions removed (`sums` by outcome, tier and rule, with prices by source too),
 * what it holds, and what of that is due within a day.
 */
export function routingView(
  plan: PlanDocument,
  sums: readonly VolumeSum[],
  { contents, due, prices, begins = new Map() }: RoutingFacts,
): RoutingAnswer {
  const pick = (outcomes: readonly string[], tier?: string) =>
    sums.filter((sum) => outcomes.includes(sum.outcome ?? '') && (tier === undefined || sum.tier === tier));
  const removed = ['excluded', 'sampled-out'];
  return {
    currency: prices?.currency ?? null,
    arrived: amountOf(sums),
    passing: amountOf(pick(['passing'])),
    rejected: amountOf(pick(['rejected', 'discarded'])),
    tiers: plan.tiers.map((tier) => ({
      id: tier.id,
      kept: amountOf(pick(['kept'], tier.id)),
      removed: amountOf(pick(removed, tier.id)),
      over: amountOf(sums.filter((sum) => isPastCap(sum, tier.id))),
      exclusions: (tier.exclusions ?? []).map(({ id }) => {
        const [gone, left] = [removed, ['kept']].map((of) => pick(of, tier.id).filter((sum) => sum.rule === id));
        const saved = (of: readonly VolumeSum[] = []): number =>
          prices ? coinsSaved(of.map(flowOf), prices, daysOfMonth) : 0;
        return {
          ...{ id, matched: amountOf([...(gone ?? []), ...(left ?? [])]), removed: amountOf(gone ?? []) },
          ...{ saves: saved(gone), wouldSave: saved(gone) + saved(left) },
          since: begins.get(exclusionKey(tier.id, id)) ?? null,
        };
      }),
      holds: contents.get(tier.id) ?? null,
      due: due.get(tier.id) ?? { events: 0, bytes: 0 },
    })),
  };
}
