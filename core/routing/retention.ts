import { day } from '../events/time-units.ts';

/** How long stored events of a tier stay that a revision shortened or took out, in milliseconds: for second thoughts. */
export const graceTime = day;

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
