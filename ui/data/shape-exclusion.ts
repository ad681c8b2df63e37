import type { ExclusionDocument, PlanDocument } from '#core/plan/document.ts';
import { freeId, withTier } from './draft.ts';

/** A plan in which a tier keeps so much of the events of a condition: an exclusion of that condition is changed, or added. */
export function withKeep(plan: PlanDocument, tierId: string, wanted: Omit<ExclusionDocument, 'id'>): PlanDocument {
  return withTier(plan, tierId, (tier) => {
    const exclusions = tier.exclusions ?? [];
    const known = exclusions.find(({ when }) => when === wanted.when);
    if (known)
      return {
        ...tier,
        exclusions: exclusions.map((other) => (other === known ? { ...other, keep: wanted.keep } : other)),
      };
    const titles = exclusions.map(({ title }) => title);
    const title = titles.includes(wanted.title) ? `${wanted.title} (${titles.length + 1})` : wanted.title;
    const id = freeId(
      title,
      exclusions.map((other) => other.id),
    );
    return { ...tier, exclusions: [...exclusions, { ...wanted, title, id }] };
  });
}
