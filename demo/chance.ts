/** Repeatable chance for one source in one hour. */
export interface Chance {
  /** A number in [0, 1). */
  readonly next: () => number;
  /** A whole number from `low` to `high`, both included. */
  readonly whole: (low: number, high: number) => number;
  /** One of some things, all alike. */
  readonly pick: <T>(things: readonly T[]) => T;
  /** True in a share of all cases. */
  readonly often: (share: number) => boolean;
  /** A duration in milliseconds around a median, with a long tail. */
  readonly took: (median: number) => number;
}

/** Chance that gives the same numbers for the same seed text (Mulberry32, T. Ettinger). */
export function chanceOf(seed: string): Chance {
  let state = 0x811c9dc5;
  for (const char of seed) state = Math.imul(state ^ char.charCodeAt(0), 0x01000193);
  const next = (): number => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
  return {
    next,
    whole: (low, high) => low + Math.floor(next() * (high - low + 1)),
    pick: (things) => things[Math.floor(next() * things.length)] as (typeof things)[number],
    often: (share) => next() < share,
    took: (median) => {
      const normal = Math.sqrt(-2 * Math.log(next() || 1e-9)) * Math.cos(2 * Math.PI * next());
      return Math.max(1, Math.round(median * Math.exp(normal * 0.6)));
    },
  };
}
