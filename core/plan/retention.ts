import { parseDuration } from '../events/units.ts';
import { type PlanDocument, passingTier, rejectsTier } from './document.ts';

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

/** How long stored events of a tier stay that a revision shortened or took out, in milliseconds: for second thoughts. */
export const graceTime = 86_400_000;

/** What is known of a grace: events from before `before` are kept for `keptFor` until `until` (milliseconds). */
export interface Grace {
  readonly keptFor: number;
  readonly before: number;
  readonly until: number;
}

/** A stretch of time (milliseconds, `before` exclusive). */
export interface Stretch {
  readonly from: number;
  readonly before: number;
}

/**
 * The stretches of time of which a tier's events are to go at `now`. `keep` is how long the plan has them kept (undefined:
 * the plan does not have the tier); graces keep those from before them longer while they run. A tier that no plan and no
 * grace says anything about keeps what it has.
 */
export function expiredStretches(keep: number | undefined, graces: readonly Grace[], now: number): readonly Stretch[] {
  if (keep === undefined && graces.length === 0) return [];
  const running = graces.filter(({ until }) => until > now);
  const edges = [...new Set(running.map(({ before }) => before))].sort((a, b) => a - b);
  return [0, ...edges].flatMap((from, i) => {
    const to = edges[i] ?? Number.POSITIVE_INFINITY;
    const longest = running.reduce(
      (most, { before, keptFor }) => (before >= to ? Math.max(most, keptFor) : most),
      keep ?? 0,
    );
    const before = Math.min(to, now - longest);
    return before > from ? [{ from, before }] : [];
  });
}
