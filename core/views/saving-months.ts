import type { SavingMonth } from '../answers/plan.ts';
import type { MonthCoins } from '../costs/month/coins-by-month.ts';
import { daysOfMonth } from '../costs/retention/lifetime.ts';
import type { PromisedSaving } from './revision-effect.ts';

/** A promise in the currency of today, by its sign; null if it was made in another one. */
export function promisedIn(
  promised: PromisedSaving | undefined,
  sign: string | undefined,
): Pick<PromisedSaving, 'coins' | 'band'> | null {
  return promised && promised.sign === sign ? { coins: promised.coins, band: promised.band } : null;
}

/** What was saved by month, beside what was promised for as many days. `sign` is that of the currency of today. */
export function savingMonths(
  months: readonly MonthCoins[],
  promised: PromisedSaving | undefined,
  sign: string | undefined,
): readonly SavingMonth[] {
  const known = promisedIn(promised, sign);
  return months.map(({ month, days, coins }) => ({
    ...{ month, days, saved: coins },
    promised: known ? Math.round((known.coins * days) / daysOfMonth) : null,
    band: known ? Math.round((known.band * days) / daysOfMonth) : 0,
  }));
}
