import { graceTime } from '../../routing/retention.ts';
import { added, type CostParts, type CostSetting, noCost } from '../cost-table.ts';
import { type DaySeries, volumeBetween } from '../day-series.ts';
import { dayOf } from '../month/calendar.ts';
import { type FlowVolume, LifetimePrices } from './lifetime.ts';
import type { KeptSince } from './retention-history.ts';

/** Days of a rhythm: volume is taken to go on as in the last full week. */
const week = 7;
/** Longest time that is looked ahead, in days. */
const farthest = 3_700;

/** What a week of a tier's volume costs with two retentions, each once every day has the age that it may reach. */
export interface RetentionCost {
  /** With the retention that the tier has. */
  readonly current: CostParts;
  /** With the one that is asked for. */
  readonly changed: CostParts;
  /** The first day on which the changed one has settled: what is shortened has gone by then, what is kept for longer has grown. */
  readonly settledOn: number;
}

/** A tier that is to keep for another time from `now` on; times in milliseconds. */
export interface RetentionChange {
  readonly tier: string;
  readonly keep: number;
  readonly now: number;
}

/**
 * What a change of a tier's retention comes to, by the volume of its last full week and the prices of today. Both amounts are
 * settled ones, as those of a rehearsal are (see {@link LifetimePrices}): what a young tier stores today is less than what it
 * will. `stretches` are what tiers kept for how long since when. Undefined where less than a week is known of the tier, or it
 * settles beyond ten years.
 */
export function retentionCost(
  series: readonly DaySeries[],
  of: CostSetting,
  stretches: ReadonlyMap<string, readonly KeptSince[]>,
  { tier, keep, now }: RetentionChange,
): RetentionCost | undefined {
  const today = dayOf(now);
  const taken = series.filter((one) => one.tier === tier && isTaken(one));
  if (!taken.some(({ from, events }) => hasBefore(events, today - week - from + 1))) return undefined;
  const before = stretches.get(tier)?.at(-1)?.keep ?? 0;
  const settledOn = dayOf(keep < before ? now + graceTime : now + keep - before) + 1;
  if (settledOn - today > farthest) return undefined;
  const prices = new LifetimePrices(of, series, now);
  const costWith = (time: number): CostParts =>
    taken.map((one) => prices.costOf(takenBetween(one, today - week, today), () => time)).reduce(added, noCost);
  return { current: costWith(before), changed: costWith(keep), settledOn };
}

/** Whether a tier takes this volume, even if part of it was too old to be kept when it arrived. */
function isTaken({ outcome }: DaySeries): boolean {
  return outcome === 'kept' || outcome === 'expired';
}

/** Volume that a tier took, as it is when none of it is too old on arrival. */
function takenBetween(series: DaySeries, from: number, to: number): FlowVolume {
  const { stored, ...volume } = volumeBetween(series, from, to);
  return series.outcome === 'kept' ? { stored, ...volume } : { ...volume, outcome: 'kept' };
}

/** Whether there was anything in the first so many days of figures. */
function hasBefore(figures: Float64Array, days: number): boolean {
  return figures.subarray(0, Math.max(0, days)).some((value) => value > 0);
}
