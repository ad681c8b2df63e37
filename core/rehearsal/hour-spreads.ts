import { grouped } from '../tables/grouped.ts';
import type { Move } from './moves.ts';
import { isNowhere, slotCount } from './transitions.ts';

/** The share of a source's hourly bytes that a tier keeps with the draft, and how much that varies by the hour. */
export interface HourSpread {
  readonly source: string;
  readonly tier: string;
  /** Of the bytes that arrive, 0 to 1. */
  readonly share: number;
  /** The standard deviation of hourly kept bytes from `share` times the hour's arrivals, as a part of `hourly`. */
  readonly spread: number;
  /** Mean bytes that arrive in an hour. */
  readonly hourly: number;
}

/** The spreads of a rehearsed day, without tiers that keep nothing of a source. */
export function hourSpreads(moves: readonly Move[]): readonly HourSpread[] {
  const spreads: HourSpread[] = [];
  for (const [source, list] of grouped(moves, (move) => move.source)) {
    const ofSource = list.filter(({ draft }) => !isNowhere(draft));
    const arrived = slotSums(ofSource);
    const all = sum(arrived);
    if (all === 0) continue;
    for (const tier of new Set(ofSource.map(({ draft }) => draft[1]))) {
      const kept = slotSums(ofSource.filter(({ draft }) => draft[0] === 'kept' && draft[1] === tier));
      const share = sum(kept) / all;
      if (share === 0) continue;
      const squares = sum(kept.map((bytes, slot) => (bytes - share * (arrived[slot] as number)) ** 2));
      const hourly = all / slotCount;
      spreads.push({ source, tier, share, spread: Math.sqrt(squares / (slotCount - 1)) / hourly, hourly });
    }
  }
  return spreads;
}

/** The spreads of a shape: of what comes of it from each source. */
export interface ShapeSpreads {
  readonly shape: string;
  /** Empty where the draft keeps nothing of it. */
  readonly hours: readonly HourSpread[];
}

/** The spreads of each shape of a rehearsed day. */
export function shapeSpreads(moves: readonly Move[]): readonly ShapeSpreads[] {
  return [...grouped(moves, ({ shape }) => shape)].map(([shape, list]) => ({ shape, hours: hourSpreads(list) }));
}

function slotSums(moves: readonly Move[]): Float64Array {
  const sums = new Float64Array(slotCount);
  for (const { slots } of moves)
    slots.forEach((bytes, slot) => {
      sums[slot] = (sums[slot] as number) + bytes;
    });
  return sums;
}

function sum(values: Float64Array): number {
  return values.reduce((all, value) => all + value, 0);
}
