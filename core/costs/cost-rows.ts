import { added, type CostParts, noCost, wholeOf } from './cost-table.ts';
import { coinsOfParts, type Money } from './money.ts';

/** An amount in the smallest coins of the currency, in its parts: they add up to the whole. */
export interface CoinsOfCost {
  readonly received: number;
  readonly kept: number;
  readonly stored: number;
  /** Of metric series; they belong to no source, team, tier or any other key. */
  readonly series: number;
  readonly whole: number;
}

/** What goes under one key, in coins. */
export interface KeyCoins extends CoinsOfCost {
  /** Null for the rest: all that has no row of its own. */
  readonly key: string | null;
  /** Coins of each step, which add up to the whole. */
  readonly steps: readonly number[];
}

/**
 * The costs of keys in coins, of those that cost anything, the dearest first, in at most `most` rows and one for the rest. The
 * wholes of the rows add up to that of all, and the parts and steps of each row to its whole.
 */
export function coinsOfKeys(
  keys: ReadonlyMap<string, readonly CostParts[]>,
  digits: number,
  most: number,
): { readonly all: CoinsOfCost; readonly rows: readonly KeyCoins[] } {
  const sorted = [...keys]
    .map(([key, steps]) => keyCost(key, steps))
    .filter(({ whole }) => whole !== 0n)
    .sort((a, b) => compared(b.whole, a.whole));
  const listed: KeyCost[] = sorted.slice(0, most);
  const [first, ...others] = sorted.slice(most);
  if (first) {
    const steps = first.steps.map((_, i) =>
      others.reduce((sum, { steps: more }) => added(sum, more[i] ?? noCost), first.steps[i] ?? noCost),
    );
    listed.push(keyCost(null, steps));
  }
  const all = listed.map(({ parts }) => parts).reduce(added, noCost);
  const wholes = coinsOfParts(
    listed.map(({ whole }) => whole),
    digits,
  );
  return {
    all: coinsOfCost(coinsOfParts([all.received, all.kept, all.stored, all.series], digits)),
    rows: listed.map(({ key, parts, steps }, i) => {
      const whole = wholes[i] as number;
      const { received, kept, stored, series } = parts;
      return {
        key,
        ...coinsOfCost(coinsWithin([received, kept, stored, series], whole, digits)),
        steps: coinsWithin(steps.map(wholeOf), whole, digits),
      };
    }),
  };
}

/** What goes under one key, step by step and in all. */
interface KeyCost {
  readonly key: string | null;
  readonly steps: readonly CostParts[];
  readonly parts: CostParts;
  readonly whole: Money;
}

function keyCost(key: string | null, steps: readonly CostParts[]): KeyCost {
  const parts = steps.reduce(added, noCost);
  return { key, steps, parts, whole: wholeOf(parts) };
}

/** Amounts in coins that add up to what their whole was given: the difference goes to the largest. */
function coinsWithin(parts: readonly bigint[], whole: number, digits: number): readonly number[] {
  const coins = [...coinsOfParts(parts, digits)];
  const left = whole - coins.reduce((sum, count) => sum + count, 0);
  const largest = coins.reduce((best, count, i) => (count > (coins[best] as number) ? i : best), 0);
  coins[largest] = (coins[largest] ?? 0) + left;
  return coins;
}

/** An amount by its four parts in coins. */
export function coinsOfCost([received = 0, kept = 0, stored = 0, series = 0]: readonly number[]): CoinsOfCost {
  return { received, kept, stored, series, whole: received + kept + stored + series };
}

function compared(a: bigint, b: bigint): number {
  return a < b ? -1 : a > b ? 1 : 0;
}
