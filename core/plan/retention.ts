import { parseDuration } from '../events/units.ts';
import { passingTier, rejectsTier } from '../routing/built-in-tiers.ts';
import type { PlanDocument } from './document.ts';

/** How long a tier keeps events under a plan, in milliseconds; undefined for one that the plan does not have. */
export function keepOf(plan: Pick<PlanDocument, 'tiers'>, tier: string): number | undefined {
  if (tier === passingTier.id) return passingTier.keep;
  if (tier === rejectsTier.id) return rejectsTier.keep;
  const found = plan.tiers.find(({ id }) => id === tier);
  return found && parseDuration(found.keep);
}

/** A tier that keeps events for less time than it did. */
export interface ShorterTier {
  readonly tier: string;
  readonly title: string;
  /** In milliseconds; `keepsFor` is 0 for a tier that is taken out. */
  readonly keptFor: number;
  readonly keepsFor: number;
}

/** The tiers that another plan shortens or takes out, in the order of the plan before. */
export function shorterTiers(before: PlanDocument, after: PlanDocument): readonly ShorterTier[] {
  return before.tiers.flatMap(({ id, title }) => {
    const keptFor = keepOf(before, id) ?? 0;
    const keepsFor = keepOf(after, id) ?? 0;
    return keepsFor < keptFor ? [{ tier: id, title, keptFor, keepsFor }] : [];
  });
}
