import { type PlanDocument, passingTier, rejectsTier } from '../plan/document.ts';

/** Number of shades for tiers: 0 is the deepest, the last is reserved for the last tier, which takes all the rest. */
export const mostShades = 4;

/**
 * The shade of each tier, from 0 to {@link mostShades} − 1, by the age of tiers (ids, the oldest first) and not by their order: a
 * tier that is added or moved changes no other's shade. Beyond three tiers, shades repeat.
 */
export function tierShades(plan: PlanDocument, byAge: readonly string[]): ReadonlyMap<string, number> {
  const rest = plan.tiers.at(-1)?.id;
  const ids = new Set([...byAge, ...plan.tiers.map(({ id }) => id)]);
  for (const id of [passingTier.id, rejectsTier.id, rest ?? '']) ids.delete(id);
  const shades = new Map([...ids].map((id, i) => [id, i % (mostShades - 1)]));
  if (rest !== undefined) shades.set(rest, mostShades - 1);
  return shades;
}
