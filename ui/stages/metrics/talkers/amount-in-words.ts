import type { RankingView } from '#core/answers/rankings.ts';
import { formatBytes, formatCount } from '#core/events/units.ts';

/** What a ranking is of, in words. */
export function amountTitle({ amount, of }: Pick<RankingView, 'amount' | 'of'>): string {
  return amount === 'sum' ? `sum of ${of}` : amount;
}

/** An amount of a ranking in words. */
export function amountInWords(amount: number, { amount: kind }: Pick<RankingView, 'amount'>): string {
  if (kind === 'bytes') return formatBytes(amount);
  return amount >= 1_000 || Number.isInteger(amount) ? formatCount(amount) : String(Number(amount.toPrecision(4)));
}
