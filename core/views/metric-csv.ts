import type { MetricAnswer } from '../answers/metrics.ts';
import { writeCsv } from '../tables/csv.ts';

/**
 * Points of a metric as CSV (RFC 4180): the start of each step (ISO 8601), all together, then a column for each line, named
 * by the values of its keys, and one for the others. Where nothing came a cell is empty.
 */
export function metricCsv({
  from,
  every,
  figure,
  whole,
  lines,
  others,
}: Pick<MetricAnswer, 'from' | 'every' | 'figure' | 'whole' | 'lines' | 'others'>): string {
  const named = lines.map(({ labels, values }) => ({ name: labels.join(' · '), values }));
  const columns = [
    { name: figure, values: whole.values },
    ...named,
    ...(others ? [{ name: 'the rest', values: others.values }] : []),
  ];
  return writeCsv(
    ['time', ...columns.map(({ name }) => name)],
    whole.values.map((_, step) => [
      new Date(from + step * every).toISOString(),
      ...columns.map(({ values }) => String(values[step] ?? '')),
    ]),
  );
}
