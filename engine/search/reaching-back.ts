import { day, hour } from '#core/events/time-units.ts';
import type { Period } from '#core/why/periods.ts';
import type { TimedSegment } from './why-sample-plan.ts';

/** A tier with less than this fraction of the events is left out if it does not reach back before the window. */
const smallTier = 0.2;

/**
 * Which tiers can be compared over time, and from when all of them hold events (milliseconds). A tier that has expired its older events
 * would look as if it had been empty.
 */
export function reachingBack(
  segments: readonly TimedSegment[],
  window: Period,
): { readonly tiers: readonly string[]; readonly leftOut: readonly string[]; readonly since: number } {
  const tiers = new Map<string, { start: number; events: number }>();
  for (const { tier, from, to, events } of segments) {
    const known = tiers.get(tier) ?? { start: from, events: 0 };
    const here = to >= window.from && from < window.to ? events : 0;
    tiers.set(tier, { start: Math.min(known.start, from), events: known.events + here });
  }
  const all = [...tiers.values()].reduce((sum, { events }) => sum + events, 0);
  const first = Math.min(...[...tiers.values()].map(({ start }) => start));
  const isKept = ([, { start, events }]: readonly [
    string,
    { readonly start: number; readonly events: number },
  ]): boolean => start <= Math.max(first + hour, window.from - day) || events > smallTier * all;
  const kept = [...tiers].filter(isKept);
  return {
    tiers: kept.map(([tier]) => tier),
    leftOut: [...tiers].filter((one) => !isKept(one)).map(([tier]) => tier),
    since: kept.reduce((latest, [, { start }]) => Math.max(latest, start), 0),
  };
}
