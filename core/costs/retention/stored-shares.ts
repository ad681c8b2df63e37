import { holdingTier } from '../../routing/holding-tier.ts';
import type { DaySeries } from '../day-series.ts';

/** Days from which it is taken how much of what arrives is stored. */
const knownDays = 7;

/** How much of the bytes that arrive is stored, as a share of them. */
export class StoredShares {
  private readonly sums = new Map<string, { bytes: number; stored: number }>();

  /** `today` in days since 1970; the days before it count, and what there is of it. */
  constructor(series: readonly DaySeries[], today: number) {
    for (const { source, tier, outcome, from, bytes, stored } of series) {
      const first = Math.max(0, today - knownDays - from);
      const sum = (figures: Float64Array): number =>
        figures.subarray(first, Math.max(0, today + 1 - from)).reduce((all, value) => all + value, 0);
      const [came, left] = [sum(bytes), sum(stored)];
      const place = holdingTier({ tier, outcome });
      for (const key of [`${source}\n${place}`, `\n${place}`, source, '']) this.add(key, came, left);
    }
  }

  /** Of what comes from a source to a tier; where nothing did yet, as of the source, of the tier, or of all. */
  of(source: string, tier: string): number {
    for (const key of [`${source}\n${tier}`, source, `\n${tier}`, '']) {
      const sum = this.sums.get(key);
      if (sum && sum.bytes > 0 && sum.stored > 0) return sum.stored / sum.bytes;
    }
    return 0;
  }

  private add(key: string, bytes: number, stored: number): void {
    const sum = this.sums.get(key) ?? { bytes: 0, stored: 0 };
    sum.bytes += bytes;
    sum.stored += stored;
    this.sums.set(key, sum);
  }
}
