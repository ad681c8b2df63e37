import type { PlanDocument } from '../plan/document.ts';
import { passingTier, rejectsTier } from '../routing/built-in-tiers.ts';

/** The number of shades: 0 is the deepest, and the lightest is reserved for the last tier, which takes the rest. */
export const mostShades = 4;

/**
 * Assigns shades to tiers by age (`byAge`: ids, the oldest first) rather than by position, so that adding or moving a tier does
 * not change the shade of another. Shades repeat if there are more tiers than shades.
 */
export function tierShades(plan: PlanDocument, byAge: readonly string[]): ReadonlyMap<string, number> {
  const rest = plan.tiers.at(-1)?.id;
  const ids = new Set([...byAge, ...plan.tiers.map(({ id }) => id)]);
  for (const id of [passingTier.id, rejectsTier.id, rest ?? '']) ids.delete(id);
  const shades = new Map([...ids].map((id, i) => [id, i % (mostShades - 1)]));
  if (rest !== undefined) shades.set(rest, mostShades - 1);
  return shades;
}
