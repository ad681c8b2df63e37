import { formatBytes, formatCount } from '#core/events/units.ts';
import type { RankingView } from '../../data/answers.ts';
import { percent } from '../../kit/times/times.ts';

/** A share of a ranking in words: one of a thousandth or less is not nothing. */
export function shareInWords(share: number): string {
  return share > 0 && share < 0.0005 ? '< 0.1 %' : percent(share);
}

/** An amount of a ranking in words. */
export function amountInWords(amount: number, { measure }: Pick<RankingView, 'measure'>): string {
  if (measure === 'bytes') return formatBytes(amount);
  return amount >= 1_000 || Number.isInteger(amount) ? formatCount(amount) : String(Number(amount.toPrecision(4)));
}
