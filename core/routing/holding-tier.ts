import { passingTier, rejectsTier } from './built-in-tiers.ts';

/** The tier that has what met an outcome: what is not kept is with what passes, or with the rejects. */
export function holdingTier({ outcome, tier }: { readonly outcome: string; readonly tier: string }): string {
  if (outcome === 'kept') return tier;
  return outcome === 'rejected' ? rejectsTier.id : passingTier.id;
}
