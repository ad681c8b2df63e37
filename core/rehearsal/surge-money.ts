import type { BudgetView } from '../costs/month/cost-month.ts';
import { holdingTier } from '../routing/holding-tier.ts';
import type { Move } from './moves.ts';
import { addedPart } from './rehearsed-surge.ts';

/** What a surge costs until its events are deleted, and what it does to the month's budgets; in coins. */
export interface SurgeMoney {
  readonly live: number;
  readonly draft: number;
  readonly budgets: readonly SurgeBudget[];
}

/** A budget that a surge touches. */
export interface SurgeBudget extends Pick<BudgetView, 'team' | 'fleet' | 'tier' | 'amount'> {
  /** What the month comes to as it goes. */
  readonly heading: number;
  /** What it would come to if all that the surge costs counted in this month. */
  readonly live: number;
  readonly draft: number;
}

/** Budgets of the month, and whose sources are. */
export interface Budgets {
  readonly views: readonly BudgetView[];
  readonly ownerOf: (source: string) => string;
  readonly fleetsOf: (source: string) => readonly string[];
}

type Which = 'live' | 'draft';

/** What a surge on top of `moves` costs with each plan; `costOf` gives the cost of a day of a move, in coins. */
export function surgeMoney(
  moves: readonly Move[],
  costOf: (move: Move, of: Which) => number,
  { views, ownerOf, fleetsOf }: Budgets,
): SurgeMoney {
  const surging = moves.flatMap((move) => {
    const part = addedPart(move);
    return part === 0 ? [] : [{ move, live: part * costOf(move, 'live'), draft: part * costOf(move, 'draft') }];
  });
  const costs = (of: Which, isCounted: (move: Move) => boolean): number =>
    Math.round(surging.reduce((sum, one) => sum + (isCounted(one.move) ? one[of] : 0), 0));
  const belongs = ({ team, fleet, tier }: BudgetView, of: Which) => {
    return ({ source, [of]: [outcome, id] }: Move): boolean =>
      (team === null || ownerOf(source) === team) &&
      (fleet === null || fleetsOf(source).includes(fleet)) &&
      (tier === null || holdingTier({ outcome, tier: id }) === tier);
  };
  const budgets = views.flatMap((view): readonly SurgeBudget[] => {
    const { team, fleet, tier, amount, heading } = view;
    if (heading === null) return [];
    const [live, draft] = [costs('live', belongs(view, 'live')), costs('draft', belongs(view, 'draft'))];
    if (live === 0 && draft === 0) return [];
    return [{ team, fleet, tier, amount, heading, live: heading + live, draft: heading + draft }];
  });
  const always = (): boolean => true;
  return { live: costs('live', always), draft: costs('draft', always), budgets };
}
