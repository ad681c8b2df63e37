import type { PlanDocument } from '../plan/document.ts';

/** A plan and the time of its publication (milliseconds). */
export interface PublishedPlan {
  readonly plan: PlanDocument;
  readonly publishedAt: number;
}

/** The key of an exclusion in {@link exclusionBegins}. */
export function exclusionKey(tier: string, exclusion: string): string {
  return `${tier}/${exclusion}`;
}

/**
 * The time since which each exclusion of the last plan has been unchanged, but for its title, reason and owner (milliseconds), by
 * {@link exclusionKey}. Plans must be sorted by publication, the earliest first.
 */
export function exclusionBegins(plans: readonly PublishedPlan[]): ReadonlyMap<string, number> {
  let known = new Map<string, { readonly as: string; readonly begin: number }>();
  for (const { plan, publishedAt } of plans) {
    const next = new Map<string, { readonly as: string; readonly begin: number }>();
    for (const { id, exclusions = [] } of plan.tiers)
      for (const { title: _, reason: __, owner: ___, ...works } of exclusions) {
        const key = exclusionKey(id, works.id);
        const as = JSON.stringify(works);
        const before = known.get(key);
        next.set(key, before?.as === as ? before : { as, begin: publishedAt });
      }
    known = next;
  }
  return new Map([...known].map(([key, { begin }]) => [key, begin]));
}
