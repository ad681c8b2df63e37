import type { CompiledTier } from './compiled-tier.ts';
import { exclude } from './exclude.ts';
import type { Fate } from './fate.ts';
import type { RouteContext, RoutedBatch } from './route.ts';
import { newVolume, type Volume } from './volume.ts';

/**
 * How much more of a routed batch a tier would keep if its exclusions were those of `tier`, for events that its exclusions matched;
 * negative for less.
 */
export function keptMoreWith(tier: CompiledTier, routed: RoutedBatch, context: RouteContext): Volume {
  const { arrived, fates, fateOf } = routed;
  const isDecided = fates.map((fate) => fate.tier === tier.id && fate.rule !== '' && fate.outcome !== 'expired');
  const isTaken = Uint8Array.from(fateOf, (fate) => Number(isDecided[fate]));
  if (!isTaken.includes(1)) return newVolume();
  const decided = isTaken.slice();
  const otherFates: Fate[] = [{ outcome: 'kept', tier: tier.id, rule: '', storedIn: tier.id }];
  const otherFateOf = new Uint16Array(arrived.rows);
  const others = { fates: otherFates, fateOf: otherFateOf, weight: arrived.weight.slice() };
  exclude(tier, { batch: arrived, isTaken, context }, others);
  const more = newVolume();
  for (let row = 0; row < arrived.rows; row++) {
    if (decided[row] === 0) continue;
    const sign = keeps(otherFates, otherFateOf[row]) - keeps(fates, fateOf[row]);
    const events = sign * (arrived.weight[row] as number);
    more.events += events;
    more.bytes += events * (arrived.size[row] as number);
  }
  return more;
}

function keeps(fates: readonly Fate[], fate: number | undefined): number {
  return Number(fates[fate as number]?.outcome === 'kept');
}
