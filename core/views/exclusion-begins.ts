import type { PlanDocument } from '../plan/document.ts';

/** A plan, and when it was put in force (milliseconds). */
export interface PublishedPlan {
  readonly plan: PlanDocument;
  readonly publishedAt: number;
}

/** The name of an exclusion among those of all tiers. */
export function exclusionKey(tier: string, exclusion: string): string {
  return `${tier}/${exclusion}`;
}

/**
 * When each exclusion of the last plan began to work as it does now (milliseconds), by {@link exclusionKey}. Plans are in order, the
 * earliest first; what the first of them has began with it.
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
