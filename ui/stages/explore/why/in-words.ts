import { formatCount, formatDuration } from '#core/events/units.ts';
import type { WhyAnswer, WhyRow } from '../../../data/answers.ts';
import { percent } from '../../../kit/times/times.ts';
import { show } from '../summary/summary-picture.ts';

/** A figure in its unit. */
export function figureInWords(value: number | null, unit: WhyAnswer['unit']): string {
  if (unit === 'share') return value === null ? '–' : percent(value);
  return show(unit === 'count' && value !== null ? Math.round(value) : value, unit);
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
  return `${Math.round(share * 100)}${width > 0 ? ` ± ${width}` : ''} %`;
}

/** The length of the compared periods. */
export function lengthOf({ times: { since } }: Pick<WhyAnswer, 'times'>): string {
  return formatDuration((since.to - since.from) / 1000);
}
