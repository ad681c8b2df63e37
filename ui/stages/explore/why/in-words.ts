import { formatCoins } from '#core/costs/format-coins.ts';
import { formatCount, formatDuration } from '#core/events/units.ts';
import type { WhyAnswer, WhyRow } from '../../../data/answers.ts';
import { percent } from '../../../kit/times/times.ts';
import { show } from '../summary/summary-picture.ts';

/** The unit of a figure. */
type FigureUnit = Pick<WhyAnswer, 'unit' | 'currency'>;

/** A figure in its unit. */
export function figureInWords(value: number | null, { unit, currency }: FigureUnit): string {
  if (unit === 'share') return value === null ? '–' : percent(value);
  if (unit === 'coins') return value === null || !currency ? '–' : formatCoins(value, currency);
  return show(unit === 'count' && value !== null ? Math.round(value) : value, unit);
}

/** Whether a figure of parts adds up to that of the whole, as counts, bytes and costs do. */
export function isAmount({ unit }: FigureUnit): boolean {
  return unit === 'count' || unit === 'size' || unit === 'coins';
}

/** A ratio in words: `8.1 ×`, `+ 25 %`, `− 40 %`, `new` or `gone`. */
export function ratioInWords(ratio: number | null): string {
  if (ratio === null) return 'new';
  if (ratio === 0) return 'gone';
  if (ratio >= 10) return `${formatCount(Math.round(ratio))} ×`;
  if (ratio >= 2) return `${ratio.toFixed(1)} ×`;
  return ratio >= 1 ? `+ ${percent(ratio - 1)}` : `− ${percent(1 - ratio)}`;
}

/** The values of a cause, as in a condition. */
export function whereInWords({ where }: Pick<WhyRow, 'where'>): string {
  return where.map(({ field, value }) => `${field} = ${value}`).join(', ');
}

/** A share of a change with half of its confidence interval. */
export function shareInWords({ share, band }: Pick<WhyRow, 'share' | 'band'>): string {
  const width = Math.round(band * 100);
  const percents = `${Math.round(share * 100)}`.replace('-', '−');
  return `${percents}${width > 0 ? ` ± ${width}` : ''} %`;
}

/** The length of the compared periods. */
export function lengthOf({ times: { since } }: Pick<WhyAnswer, 'times'>): string {
  return formatDuration((since.to - since.from) / 1000);
}
