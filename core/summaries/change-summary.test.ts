import { expect, test } from 'vitest';
import {
  isLeast,
  type SummaryParts,
  spanFor,
  withFigure,
  withKeys,
  withLeast,
  withoutFigure,
} from './change-summary.ts';
import { parseSummary } from './parse-summary.ts';
import { writeSummary } from './write-summary.ts';

const changed = (text: string, change: (summary: SummaryParts) => SummaryParts): string => {
  const parsed = parseSummary(text);
  if (!parsed.ok) throw new Error(parsed.problem.message);
  return writeSummary(change(parsed.summary));
};

test('figures are added, replaced and removed, but the only one stays', () => {
  const p95 = { function: 'p95', field: 'took' } as const;
  expect(changed('count() by source', (s) => withFigure(s, 1, p95))).toBe('count(), p95(took) by source');
  expect(changed('count() by source', (s) => withFigure(s, 0, p95))).toBe('p95(took) by source');
  expect(changed('count(), p95(took)', (s) => withoutFigure(s, 0))).toBe('p95(took)');
  expect(changed('count()', (s) => withoutFigure(s, 0))).toBe('count()');
});

test('sorting is dropped with its column', () => {
  expect(changed('count(), p95(took) sort by p95(took) desc', (s) => withoutFigure(s, 1))).toBe('count()');
  expect(changed('count() by a, b sort by b asc', (s) => withKeys(s, ['a']))).toBe('count() by a');
  expect(changed('count() by a, b sort by b asc', (s) => withKeys(s, ['b', 'b']))).toBe('count() by b sort by b asc');
});

test('a least value filters by the first figure', () => {
  expect(changed('count() by a top 5', (s) => withLeast(s, '10', 10))).toBe('count() by a having count() > 10 top 5');
  expect(changed('count() by a having count() > 3', (s) => withLeast(s, '', 0))).toBe('count() by a');
});

test('other filters are not taken for a least value', () => {
  const found = [
    'count() having count() > 3',
    'count() having count() < 3',
    'count(), sum(n) having sum(n) > 3',
    'count()',
  ];
  const isOf = (text: string): boolean => {
    const parsed = parseSummary(text);
    return parsed.ok && isLeast(parsed.summary);
  };
  expect(found.map(isOf)).toEqual([true, false, false, false]);
});

test('the bucket width follows from the length of the window', () => {
  expect([60_000, 3_600_000, 21_600_000, 86_400_000, 7 * 86_400_000, 90 * 86_400_000].map(spanFor)).toEqual([
    1_000, 60_000, 300_000, 900_000, 21_600_000, 86_400_000,
  ]);
});
