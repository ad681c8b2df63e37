import type { CappedRows, OverflowKind } from './overflow.ts';

/** The part of an allowance that is spread over the day, so that there is something left for a sample until its end. */
const spread = 0.1;

/**
 * A fair sample of what is over: of each shape the same amount stays, so that rare ones stay whole and frequent ones are
 * thinned out. Every event that stays stands for as many as its chance says, so sums by weights are right (Horvitz and
 * Thompson 1952).
 */
export const sample: OverflowKind = {
  kind: 'sample',
  title: 'a fair sample, rare shapes first',
  unlocked: (amount, share) => amount * (1 - spread * (1 - share)),
  stay: fairly,
  passes: false,
};

function fairly({ batch, rows, costs, room, left: rest, random }: CappedRows): Float32Array {
  const stay = new Float32Array(rows.length);
  const total = costs.reduce((sum, cost) => sum + cost, 0);
  if (total <= room) return stay.fill(1);
  const shapeOf = (place: number): number => batch.shape?.codes[rows[place] as number] ?? -1;
  const sums = new Map<number, number>();
  for (const [place, cost] of costs.entries()) sums.set(shapeOf(place), (sums.get(shapeOf(place)) ?? 0) + cost);
  const level = fairShare([...sums.values()], room);
  let left = rest;
  for (const [place, cost] of costs.entries()) {
    const chance = Math.min(1, level / (sums.get(shapeOf(place)) as number));
    // By chance a little more may stay than there is room for now, never more than the day has left.
    if (cost > left || random() >= chance) continue;
    left -= cost;
    stay[place] = 1 / chance;
  }
  return stay;
}

/**
 * The most that each of some demands may have so that together they have no more than there is room for, and none that
 * wants less gets less (max-min fairness; Bertsekas and Gallager, “Data Networks”, 1992, by filling from the smallest).
 */
export function fairShare(demands: readonly number[], room: number): number {
  const sorted = [...demands].sort((a, b) => a - b);
  let left = Math.max(0, room);
  for (const [i, demand] of sorted.entries()) {
    const level = left / (sorted.length - i);
    if (demand > level) return level;
    left -= demand;
  }
  return Number.POSITIVE_INFINITY;
}
