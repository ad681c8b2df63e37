import type { RankingView } from '#core/answers/rankings.ts';
import { formatBytes, formatCount } from '#core/events/units.ts';
import { percent } from '../../../kit/times.ts';

/** What a ranking is of, in words. */
export function amountTitle({ amount, of }: Pick<RankingView, 'amount' | 'of'>): string {
  return amount === 'sum' ? `sum of ${of}` : amount;
}

/** A share of a ranking in words: one of a thousandth or less is not nothing. */
export function shareInWords(share: number): string {
  return share > 0 && share < 0.0005 ? '< 0.1 %' : percent(share);
}

/** An amount of a ranking in words. */
export function amountInWords(amount: number, { amount: kind }: Pick<RankingView, 'amount'>): string {
  if (kind === 'bytes') return formatBytes(amount);
  return amount >= 1_000 || Number.isInteger(amount) ? formatCount(amount) : String(Number(amount.toPrecision(4)));
}
