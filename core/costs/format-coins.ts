import type { Currency } from './book/price-book.ts';

const whole = new Intl.NumberFormat('en', { maximumFractionDigits: 0 });

/**
 * An amount in coins with its sign: `$412`, `cr 3.08`. Coins are written below ten of the currency, where they count; `exact`
 * tells them always.
 */
export function formatCoins(coins: number, { sign, digits }: Currency, exact = false): string {
  const value = Math.abs(coins) / 10 ** digits;
  const number =
    (exact || value < 10) && digits > 0 && coins !== 0
      ? new Intl.NumberFormat('en', { minimumFractionDigits: digits, maximumFractionDigits: digits }).format(value)
      : whole.format(value);
  // Sign and number stay on one line.
  const space = /[\p{L}\d]$/u.test(sign) ? '\u00a0' : '';
  return `${coins < 0 ? '−' : ''}${sign}${space}${number}`;
}

/** A change in coins with what it does to the amount before: `+ cr 3.08`, `− $412`; `0` where there is none. */
export function formatCoinsChange(change: number, currency: Currency, exact = false): string {
  if (change === 0) return '0';
  return `${change < 0 ? '−' : '+'} ${formatCoins(Math.abs(change), currency, exact)}`;
}
