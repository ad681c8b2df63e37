import type { Currency } from './price-book.ts';

const whole = new Intl.NumberFormat('en', { maximumFractionDigits: 0 });

/**
 * An amount in coins with its sign: `$412`, `cr 3.08`. Coins are told below ten of the currency, where they count; `exact`
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
