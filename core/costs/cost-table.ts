import type { Outcome } from '../routing/ledger.ts';
import { dayLength, monthOf } from './calendar.ts';
import { type Money, priceOfBytes, priceOfEvents } from './money.ts';
import type { Prices } from './prices.ts';
import type { RetentionHistory } from './retention-history.ts';

/** A sum of the volume ledger over one day. */
export interface DaySum {
  readonly day: number;
  readonly source: string;
  readonly tier: string;
  readonly outcome: Outcome;
  readonly events: number;
  readonly bytes: number;
  readonly stored: number;
}

/** What costs are reckoned from. */
export interface CostSetting {
  readonly prices: Prices;
  readonly retention: RetentionHistory;
  /** The owner of a source; empty where it has none. */
  readonly teamOf: (source: string) => string;
  /** What was received on a day in all, in bytes, since the first of the month in which the window begins. */
  readonly receivedOn: (day: number) => number;
}

/** An amount in its parts: what comes in costs for receiving it and for keeping its events, what lies there for the store. */
export interface CostParts {
  readonly received: Money;
  readonly kept: Money;
  readonly stored: Money;
}

export const noCost: CostParts = { received: 0n, kept: 0n, stored: 0n };

/** The sum of the parts of an amount. */
export function wholeOf({ received, kept, stored }: CostParts): Money {
  return received + kept + stored;
}

/** The sum of two amounts, part by part. */
export function added(a: CostParts, b: CostParts): CostParts {
  return { received: a.received + b.received, kept: a.kept + b.kept, stored: a.stored + b.stored };
}

/** What is the same for all volume of a key, a team and a tier, by day of the window. */
interface Amounts {
  readonly key: string;
  readonly team: string;
  readonly tier: string;
  readonly bytes: Float64Array;
  readonly keptEvents: Float64Array;
  /** Bytes that lie there: differences from day to day, and what lies for a part of a day. */
  readonly lying: Float64Array;
  readonly partly: Float64Array;
}

/** Costs by key and day of a window of whole days. Everything is whole bytes and events until it is priced. */
export class CostTable {
  private readonly amounts = new Map<string, Amounts>();
  private readonly discounts = new Map<number, DiscountShare>();

  /** `from` up to `to`, in days. */
  constructor(
    private readonly from: number,
    private readonly to: number,
    private readonly setting: CostSetting,
  ) {}

  /** Adds volume under a key. What arrived before the window counts for what lies there within it. */
  add(key: string, sum: DaySum): void {
    const tier = heldIn(sum);
    const amounts = this.amountsOf(key, this.setting.teamOf(sum.source), tier);
    const at = sum.day - this.from;
    if (at >= 0 && sum.day < this.to) {
      amounts.bytes[at] = (amounts.bytes[at] as number) + sum.bytes;
      if (sum.outcome === 'kept') amounts.keptEvents[at] = (amounts.keptEvents[at] as number) + sum.events;
    }
    if (sum.stored > 0) this.addLying(amounts, sum.day, sum.stored, this.setting.retention.endOf(tier, sum.day));
  }

  /** The keys that cost anything or came at all. */
  keys(): readonly string[] {
    return [...new Set([...this.amounts.values()].map(({ key }) => key))];
  }

  /** What a key costs on each day of the window; of all keys where none is given. */
  byDay(key?: string): readonly CostParts[] {
    const days = Array.from({ length: this.to - this.from }, () => noCost);
    for (const amounts of this.amounts.values()) {
      if (key !== undefined && amounts.key !== key) continue;
      this.price(amounts, (at, parts) => {
        days[at] = added(days[at] as CostParts, parts);
      });
    }
    return days;
  }

  /** What each key costs over the window. */
  byKey(): ReadonlyMap<string, CostParts> {
    const keys = new Map<string, CostParts>();
    for (const amounts of this.amounts.values()) {
      let sum = keys.get(amounts.key) ?? noCost;
      this.price(amounts, (_, parts) => {
        sum = added(sum, parts);
      });
      keys.set(amounts.key, sum);
    }
    return keys;
  }

  private amountsOf(key: string, team: string, tier: string): Amounts {
    const id = `${key}\n${team}\n${tier}`;
    let amounts = this.amounts.get(id);
    if (!amounts) {
      const days = (): Float64Array => new Float64Array(this.to - this.from + 1);
      amounts = { key, team, tier, bytes: days(), keptEvents: days(), lying: days(), partly: days() };
      this.amounts.set(id, amounts);
    }
    return amounts;
  }

  private addLying({ lying, partly }: Amounts, day: number, bytes: number, end: number): void {
    const { from, to } = this;
    const lastWhole = Math.floor(end / dayLength);
    const [first, last] = [Math.max(day, from), Math.min(lastWhole, to)];
    if (first < last) {
      lying[first - from] = (lying[first - from] as number) + bytes;
      lying[last - from] = (lying[last - from] as number) - bytes;
    }
    const rest = end - lastWhole * dayLength;
    if (rest > 0 && lastWhole >= from && lastWhole < to)
      partly[lastWhole - from] = (partly[lastWhole - from] as number) + Math.floor((bytes * rest) / dayLength);
  }

  private price({ team, tier, ...amounts }: Amounts, tell: (at: number, parts: CostParts) => void): void {
    const { prices, retention } = this.setting;
    let lies = 0;
    for (let at = 0; at < this.to - this.from; at++) {
      const day = this.from + at;
      lies += amounts.lying[at] as number;
      const [bytes, events] = [amounts.bytes[at] as number, amounts.keptEvents[at] as number];
      const stored = lies + (amounts.partly[at] as number);
      if (bytes === 0 && events === 0 && stored === 0) continue;
      const rates = prices.ratesOn(day, team, tier);
      const keptFor = events > 0 ? rates.keptFor(retention.keepOn(tier, day) / dayLength) : 0;
      tell(at, {
        received: this.discounted(day, priceOfBytes(bytes, rates.received)),
        kept: priceOfEvents(events, keptFor),
        stored: priceOfDay(day, stored, rates.stored),
      });
    }
  }

  /** What is received on a day beyond the amount of the month above which there is a discount costs less, whoever sent it. */
  private discounted(day: number, amount: Money): Money {
    let share = this.discounts.get(day);
    if (!share) this.discounts.set(day, (share = this.discountOn(day)));
    return share.off === 0n ? amount : (amount * (share.of - share.off)) / share.of;
  }

  private discountOn(day: number): DiscountShare {
    const { prices, receivedOn } = this.setting;
    const discount = prices.entryOn(day)?.discount;
    if (!discount) return { off: 0n, of: 1n };
    let before = 0;
    for (let at = monthOf(day).from; at < day; at++) before += receivedOn(at);
    const received = receivedOn(day);
    const over = Math.min(received, Math.max(0, before + received - discount.above * 1e9));
    return {
      off: BigInt(Math.round(over)) * BigInt(Math.round(discount.percent * 10_000)),
      of: BigInt(Math.max(1, Math.round(received))) * 1_000_000n,
    };
  }
}

/** How much of a day's price for receiving is off: `off` parts of `of`. */
interface DiscountShare {
  readonly off: bigint;
  readonly of: bigint;
}

/** What bytes that lie there for a day cost, by the price of a month: its days share it equally. */
function priceOfDay(day: number, bytes: number, price: number): Money {
  const { from, to } = monthOf(day);
  return priceOfBytes(bytes, price) / BigInt(to - from);
}

/** The tier that holds what met an outcome. */
function heldIn({ outcome, tier }: DaySum): string {
  if (outcome === 'kept') return tier;
  return outcome === 'rejected' ? 'rejects' : 'passing';
}
