import type { CapUnit, CompiledCap } from './cap.ts';
import type { ZoneDay } from './day-of-zone.ts';

/** What of a tier's allowances is used, by the day that begins at `day` (milliseconds). */
export interface UsedDay {
  readonly tier: string;
  readonly day: number;
  readonly events: number;
  readonly bytes: number;
}

/** What a group adds to a day of a tier with a cap, and what of it went another way. */
export interface CapUse extends UsedDay {
  readonly overEvents: number;
  readonly overBytes: number;
  readonly unit: CapUnit;
  /** What the day allows; null while the cap is lifted. */
  readonly amount: number | null;
}

interface Account {
  readonly cap: CompiledCap;
  readonly before: UsedDay;
  events: number;
  bytes: number;
  overEvents: number;
  overBytes: number;
}

/**
 * What the tiers with caps may still take, while one group goes through the plan: what the store said is used, and what the
 * group took. Nothing of it counts before the group is committed.
 */
export class Allowances {
  private readonly accounts = new Map<string, Account>();
  private readonly used: ReadonlyMap<string, UsedDay>;
  /** Accounts as they stood before the delivery at hand. */
  private marked: ReadonlyMap<string, Omit<Account, 'cap' | 'before'>> = new Map();

  constructor(used: readonly UsedDay[]) {
    this.used = new Map(used.map((day) => [keyOf(day.tier, day.day), day]));
  }

  /** What a tier may take at `now` of the day given, and all that the day has left, in the unit of its cap. */
  room(tier: string, cap: CompiledCap, day: ZoneDay, now: number): { readonly room: number; readonly left: number } {
    if (!cap.isOn) return { room: Number.POSITIVE_INFINITY, left: Number.POSITIVE_INFINITY };
    const share = Math.min(1, Math.max(0, (now - day.start) / (day.end - day.start)));
    const { before, [cap.unit]: added } = this.account(tier, cap, day);
    const used = before[cap.unit] + added;
    return { room: cap.overflow.unlocked(cap.amount, share) - used, left: cap.amount - used };
  }

  /** Books what a tier took, and what was over. */
  book(tier: string, cap: CompiledCap, day: ZoneDay, amounts: Omit<Account, 'cap' | 'before'>): void {
    const account = this.account(tier, cap, day);
    account.events += amounts.events;
    account.bytes += amounts.bytes;
    account.overEvents += amounts.overEvents;
    account.overBytes += amounts.overBytes;
  }

  /** Remembers how things stand, for {@link takeBack}. */
  mark(): void {
    this.marked = new Map([...this.accounts].map(([key, { cap: _, before: __, ...amounts }]) => [key, { ...amounts }]));
  }

  /** Forgets what was booked since {@link mark}. */
  takeBack(): void {
    for (const [key, account] of this.accounts)
      Object.assign(account, this.marked.get(key) ?? { events: 0, bytes: 0, overEvents: 0, overBytes: 0 });
  }

  /** What the group adds. */
  uses(): readonly CapUse[] {
    return [...this.accounts.values()]
      .filter(({ events, overEvents }) => events + overEvents > 0)
      .map(({ cap, before: { tier, day }, ...amounts }) => ({
        ...{ tier, day, ...amounts },
        unit: cap.unit,
        amount: cap.isOn ? cap.amount : null,
      }));
  }

  private account(tier: string, cap: CompiledCap, { start }: ZoneDay): Account {
    const key = keyOf(tier, start);
    let account = this.accounts.get(key);
    if (!account) {
      const before = this.used.get(key) ?? { tier, day: start, events: 0, bytes: 0 };
      account = { cap, before, events: 0, bytes: 0, overEvents: 0, overBytes: 0 };
      this.accounts.set(key, account);
    }
    return account;
  }
}

function keyOf(tier: string, day: number): string {
  return `${tier} ${day}`;
}
