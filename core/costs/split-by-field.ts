import type { FieldShares } from '../fields/catalogue.ts';
import { added, type CostParts, noCost } from './cost-table.ts';
import type { Money } from './money.ts';

/** Shares are taken in whole parts of this many, so that nothing is lost to rounding. */
const shareParts = 1e12;

/**
 * Costs by keys, one of which is a source, with that source's fields in its place: `at` tells where among the keys (JSON
 * arrays) it stands. Receiving and storing are shared by the bytes of lines and fields, exactly; what a line is beside its
 * fields has an empty name, and so has what it costs that an event is kept, however large, and metric series.
 */
export function splitByField(
  costs: ReadonlyMap<string, readonly CostParts[]>,
  at: number,
  shares: FieldShares,
): ReadonlyMap<string, readonly CostParts[]> {
  const found = new Map<string, CostParts[]>();
  for (const [key, steps] of costs) {
    const keys: readonly string[] = JSON.parse(key);
    const add = (field: string, parts: readonly CostParts[]): void => {
      const name = JSON.stringify(keys.map((one, i) => (i === at ? field : one)));
      const known = found.get(name);
      if (!known) found.set(name, [...parts]);
      else
        parts.forEach((part, step) => {
          known[step] = added(known[step] ?? noCost, part);
        });
    };
    let rest = steps;
    for (const [field, share] of shares.get(keys[at] ?? '') ?? []) {
      const parts = steps.map((step) => partOf(step, share));
      rest = rest.map((left, step) => less(left, parts[step] ?? noCost));
      add(field, parts);
    }
    add('', rest);
  }
  return found;
}

function partOf({ received, stored }: CostParts, share: number): CostParts {
  const parts = BigInt(Math.floor(share * shareParts));
  const of = (amount: Money): Money => (amount * parts) / BigInt(shareParts);
  return { received: of(received), kept: 0n, stored: of(stored), series: 0n };
}

function less(a: CostParts, b: CostParts): CostParts {
  return {
    received: a.received - b.received,
    kept: a.kept - b.kept,
    stored: a.stored - b.stored,
    series: a.series - b.series,
  };
}
