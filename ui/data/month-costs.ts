'use client';

import { useMemo } from 'react';
import type { Currency } from '#core/costs/book/price-book.ts';
import type { CostKey } from '#core/costs/cost-keys.ts';
import { useQuestion } from './client.ts';

/** What the month so far cost by a key, in coins; undefined while nothing is known, without prices, or with money turned off. */
export interface MonthCosts {
  readonly currency: Currency;
  /** Undefined for what is shown as a part of the rest alone. */
  readonly coinsOf: (key: string) => number | undefined;
}

/** What the month so far cost by a key: the figures of Costs, for where volumes stand. */
export function useMonthCosts(by: CostKey): MonthCosts | undefined {
  const from = `${new Date().toISOString().slice(0, 7)}-01`;
  const { data } = useQuestion('costs', { from, by }, 60_000);
  return useMemo(() => {
    if (!data?.currency) return undefined;
    const coins = new Map(data.rows.map(({ keys: [key], whole }) => [key, whole]));
    // The rest has no key; without it, what has no row cost nothing.
    const unknown = coins.has(undefined) ? undefined : 0;
    return { currency: data.currency, coinsOf: (key) => coins.get(key) ?? unknown };
  }, [data]);
}
