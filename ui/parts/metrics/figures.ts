import { formatBytes, formatCount, formatDuration } from '#core/events/units.ts';

/** Figures that count events or values, whatever the unit of what is measured. */
const counts: ReadonlySet<string> = new Set(['count', 'distinct']);

/** A figure of a metric in words, by its name and the metric's unit (UCUM). */
export function figureInWords(value: number | null, figure: string, unit: string): string {
  if (value === null) return '–';
  if (figure === 'rate') return `${formatCount(value)}/s`;
  if (counts.has(figure)) return formatCount(value);
  if (unit === 's') return formatDuration(value);
  if (unit === 'ms') return formatDuration(value / 1_000);
  if (unit === 'By') return formatBytes(value);
  const text = Math.abs(value) >= 1_000 ? formatCount(value) : Number(value.toPrecision(4)).toLocaleString('en-US');
  return unit === '' || unit === '1' ? text : `${text} ${unit}`;
}
