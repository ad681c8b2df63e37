import { holdingTier } from '../routing/holding-tier.ts';
import { type DiscountShare, discounted, discountOn } from './book/discount.ts';
import type { DaySeries } from './day-series.ts';
import { GroupFigures } from './group-figures.ts';
import { type Money, priceOf, priceOfByte, priceOfByteDay, priceOfEvent } from './money.ts';
import { dayLength, monthOf } from './month/calendar.ts';
import type { Prices } from './prices.ts';
import type { RetentionHistory } from './retention/retention-history.ts';
import { costOfSeries } from './series-price.ts';

/** What costs are reckoned from. */
export interface CostSetting {
  readonly prices: Prices;
  readonly retention: RetentionHistory;
  /** The owner of a source; empty where it has none. */
  readonly teamOf: (source: string) => string;
  /** The fleets that a source belongs to. */
  readonly fleetsOf: (source: string) => readonly string[];
  /** What was received on a day in all, in bytes, since the first of the month in which the window begins. */
  readonly receivedOn: (day: number) => number;
  /** How many metric series there were on a day. */
  readonly seriesOn: (day: number) => number;
}

/**
 * An amount in its parts: what comes in costs for receiving it and for keeping its events, what is stored costs for its room, and
 * metrics for their series.
 */
export interface CostParts {
  readonly received: Money;
  readonly kept: Money;
  readonly stored: Money;
  readonly series: Money;
}

export const noCost: CostParts = { received: 0n, kept: 0n, stored: 0n, series: 0n };

/** The sum of the parts of an amount. */
export function wholeOf({ received, kept, stored, series }: CostParts): Money {
  return received + kept + stored + series;
}

/** The sum of two amounts, part by part. */
export function added(a: CostParts, b: CostParts): CostParts {
  return {
    received: a.received + b.received,
    kept: a.kept + b.kept,
    stored: a.stored + b.stored,
    series: a.series + b.series,
  };
}

/** What is priced alike: the volume of a key, a team and a tier. */
interface Group {
  readonly key: string;
  readonly team: string;
  readonly tier: string;
  readonly series: DaySeries[];
}

/** Days of one month, counted from the first day of the window, on which the same prices hold for a team and a tier. */
interface PricedDays {
  readonly from: number;
  readonly to: number;
  /** In millionths of the currency, as {@link Prices} give them. */
  readonly received: number;
  readonly kept: number;
  readonly stored: number;
  readonly daysOfMonth: number;
  /** How much of the price of receiving is off: `off` parts of `of`; days with a discount stand alone. */
  readonly discount: DiscountShare;
}

/** A stretch of days with its unit prices, shared by all groups of a team and tier. */
interface Stretch extends Pick<PricedDays, 'from' | 'to' | 'discount'> {
  readonly perByte: Money;
  readonly perEvent: Money;
  readonly perByteDay: Money;
}

/** Expiry times are cached from so many days before the window on; earlier ones are computed each time. */
const daysBefore = 1_000;

/** Costs by key and day of a window of whole days. Everything is whole bytes and events until it is priced. */
export class CostTable {
  private readonly groups = new Map<string, Group>();
  private readonly discounts = new Map<number, DiscountShare>();
  private readonly ends = new Map<string, Float64Array>();
  private readonly figures: GroupFigures;
  /** Under which metric series go; undefined where they are left out. */
  private metricKey: string | undefined;

  /** `from` up to `to`, in days. */
  constructor(
    private readonly from: number,
    private readonly to: number,
    private readonly setting: CostSetting,
  ) {
    this.figures = new GroupFigures(from, to);
  }

  /** Adds volume under a key. What arrived before the window counts for what is stored within it. */
  add(key: string, series: DaySeries): void {
    const team = this.setting.teamOf(series.source);
    const tier = holdingTier(series);
    const id = `${key}\n${team}\n${tier}`;
    const group = this.groups.get(id);
    if (group) group.series.push(series);
    else this.groups.set(id, { key, team, tier, series: [series] });
  }

  /** Adds all metric series, once, under a key: they belong to no source, team or tier. */
  addMetricSeries(key: string): void {
    this.metricKey = key;
  }

  /** What each day of the window costs. */
  byDay(): readonly CostParts[] {
    const days = Array.from({ length: this.to - this.from }, (_, at) => this.from + at);
    const sums = days.map(() => noCost);
    for (const steps of this.byKey(days).values())
      steps.forEach((parts, at) => {
        if (parts !== noCost) sums[at] = added(sums[at] as CostParts, parts);
      });
    return sums;
  }

  /**
   * What each key costs in steps of the window, which begin on these days, the first on its first one; in one step where none
   * are given.
   */
  byKey(starts: readonly number[] = [this.from]): ReadonlyMap<string, readonly CostParts[]> {
    const keys = new Map<string, CostParts[]>();
    const known = new Map<string, readonly Stretch[]>();
    for (const group of this.groups.values()) {
      const place = `${group.team}\n${group.tier}`;
      let stretches = known.get(place);
      if (!stretches) known.set(place, (stretches = this.pricedDays(group, starts).map(stretchOf)));
      let steps = keys.get(group.key);
      if (!steps) keys.set(group.key, (steps = starts.map(() => noCost)));
      this.figures.gather(group.series, this.endsOf(group.tier));
      let step = 0;
      for (const stretch of stretches) {
        while (step + 1 < starts.length && (starts[step + 1] as number) - this.from <= stretch.from) step++;
        const parts = priced(stretch, this.figures);
        if (parts) steps[step] = steps[step] === noCost ? parts : added(steps[step] as CostParts, parts);
      }
    }
    if (this.metricKey !== undefined) {
      const known = keys.get(this.metricKey) ?? starts.map(() => noCost);
      keys.set(this.metricKey, this.withMetricSeries(known, starts));
    }
    return keys;
  }

  private withMetricSeries(steps: readonly CostParts[], starts: readonly number[]): CostParts[] {
    return steps.map((parts, step) => {
      let series = 0n;
      for (let day = starts[step] as number; day < (starts[step + 1] ?? this.to); day++)
        series += costOfSeries(this.setting.seriesOn(day), day, this.setting.prices);
      return series === 0n ? parts : added(parts, { ...noCost, series });
    });
  }

  /** The expiry time (milliseconds) of events that arrived on a day, for a tier. */
  private endsOf(tier: string): (day: number) => number {
    let ends = this.ends.get(tier);
    if (!ends) this.ends.set(tier, (ends = new Float64Array(this.to - this.from + daysBefore).fill(Number.NaN)));
    const known = ends;
    const first = this.from - daysBefore;
    return (day) => {
      let end = known[day - first];
      if (end === undefined || end !== end) known[day - first] = end = this.setting.retention.endOf(tier, day);
      return end;
    };
  }

  private pricedDays({ team, tier }: Group, starts: readonly number[]): readonly PricedDays[] {
    const { prices, retention } = this.setting;
    const begins = new Set(starts);
    const found: PricedDays[] = [];
    let month = monthOf(this.from);
    for (let day = this.from; day < this.to; day++) {
      if (day >= month.to) month = monthOf(day);
      const rates = prices.ratesOn(day, team, tier);
      const at = day - this.from;
      const next: PricedDays = {
        ...{ from: at, to: at + 1, received: rates.received, stored: rates.stored },
        kept: rates.keptFor(retention.keepOn(tier, day) / dayLength),
        daysOfMonth: month.to - month.from,
        discount: this.discountOn(day),
      };
      const before = found.at(-1);
      const isStart = day === month.from || begins.has(day);
      if (before && !isStart && isAlike(before, next)) found[found.length - 1] = { ...before, to: at + 1 };
      else found.push(next);
    }
    return found;
  }

  private discountOn(day: number): DiscountShare {
    let share = this.discounts.get(day);
    const { prices, receivedOn } = this.setting;
    if (!share) this.discounts.set(day, (share = discountOn(day, prices, receivedOn)));
    return share;
  }
}

function isAlike(a: PricedDays, b: PricedDays): boolean {
  return (
    a.received === b.received &&
    a.kept === b.kept &&
    a.stored === b.stored &&
    a.discount.off === 0n &&
    b.discount.off === 0n
  );
}

function stretchOf({ from, to, discount, received, kept, stored, daysOfMonth }: PricedDays): Stretch {
  return {
    ...{ from, to, discount },
    perByte: priceOfByte(received),
    perEvent: priceOfEvent(kept),
    perByteDay: priceOfByteDay(stored, daysOfMonth),
  };
}

/** What the figures of some days cost; undefined where there are none. */
function priced({ from, to, discount, ...one }: Stretch, figures: GroupFigures): CostParts | undefined {
  let [bytes, events, lying] = [0, 0, 0];
  for (let at = from; at < to; at++) {
    bytes += figures.bytes[at] as number;
    events += figures.keptEvents[at] as number;
    lying += figures.lying[at] as number;
  }
  if (bytes === 0 && events === 0 && lying === 0) return undefined;
  return {
    received: discounted(priceOf(bytes, one.perByte), discount),
    kept: priceOf(events, one.perEvent),
    stored: priceOf(lying, one.perByteDay),
    series: 0n,
  };
}
