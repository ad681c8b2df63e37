import { dayLength } from '../month/calendar.ts';

/** For how long a tier kept events since a time; both in milliseconds. */
export interface KeptSince {
  readonly since: number;
  readonly keep: number;
}

/** What tiers kept for how long, through all revisions of the plan. */
export interface RetentionHistory {
  /** For how long a tier kept on a day, in milliseconds; 0 for one that there was not. */
  readonly keepOn: (tier: string, day: number) => number;
  /** When what came to a tier on a day goes, in milliseconds since 1970. */
  readonly endOf: (tier: string, day: number) => number;
}

/**
 * How long things lie, by what each tier kept for how long since when, the earliest first. What comes on a day is stored
 * from its beginning; where a tier keeps for less, what has had its time by then goes at once, and nothing that went comes
 * back. What was before the first is as it is in that.
 */
export function retentionHistory(tiers: ReadonlyMap<string, readonly KeptSince[]>): RetentionHistory {
  const stretchesOf = (tier: string): readonly KeptSince[] => tiers.get(tier) ?? [];
  return {
    keepOn: (tier, day) => {
      const stretches = stretchesOf(tier);
      return (stretches.findLast(({ since }) => since < (day + 1) * dayLength) ?? stretches[0])?.keep ?? 0;
    },
    endOf: (tier, day) => {
      const start = day * dayLength;
      const stretches = stretchesOf(tier);
      for (let i = 0; i < stretches.length; i++) {
        const { since, keep } = stretches[i] as KeptSince;
        const until = stretches[i + 1]?.since ?? Number.POSITIVE_INFINITY;
        if (until <= start) continue;
        const end = start + keep;
        if (end < until) return Math.max(end, i === 0 ? end : since, start);
      }
      return start;
    },
  };
}
