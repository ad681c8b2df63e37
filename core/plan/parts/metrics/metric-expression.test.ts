import { describe, expect, test } from 'vitest';
import { parseMetricExpression, valueOfExpression } from './metric-expression.ts';
import type { MetricDocument } from './metrics-shape.ts';

const metrics: readonly MetricDocument[] = [
  { id: 'all', name: 'pay.all', when: '', measure: 'count' },
  { id: 'failed', name: 'pay.failed', when: 'outcome = failed', measure: 'count' },
  { id: 'took', name: 'pay.took', when: '', measure: 'distribution', of: 'took' },
  { id: 'odd', name: 'gate-2/scans', when: '', measure: 'rate' },
];

const value = (text: string, values: Readonly<Record<string, number | null>>): number | null | string => {
  const parsed = parseMetricExpression(text, metrics);
  if (!parsed.ok) return parsed.problem.message;
  return valueOfExpression(parsed.expression, (name) => values[name] ?? null);
};

describe('metrics put together', () => {
  test('are reckoned by the rules of arithmetic; what is not there makes nothing of the whole', () => {
    const values = { 'pay.all': 40, 'pay.failed': 5, 'pay.took.p95': 0.5, 'gate-2/scans': 2 };
    expect(value('pay.failed / pay.all * 100', values)).toBe(12.5);
    expect(value('pay.all - pay.failed - 5', values)).toBe(30);
    expect(value('-(pay.all + 2) % 5', values)).toBe(-2);
    expect(value('pay.took.p95 * 1000', values)).toBe(500);
    expect(value('`gate-2/scans` * 60', values)).toBe(120);
    expect(value('pay.failed / (pay.all - 40)', values)).toBeNull();
    expect(value('pay.failed + pay.all', { 'pay.all': 3 })).toBeNull();
    expect(value('PAY.ALL', { 'PAY.ALL': 4 })).toBe(4);
  });

  test('have the figure that is behind the name, else the first', () => {
    const parsed = parseMetricExpression('pay.took.max - pay.took', metrics);
    expect(parsed.ok && parsed.terms.map(({ metric, figure }) => [metric.id, figure])).toEqual([
      ['took', 'max'],
      ['took', 'p95'],
    ]);
  });

  test.each([
    ['pay.al', 'there is no metric pay.al'],
    ['pay.took.p42', 'there is no metric pay.took.p42'],
    ['1 + 1', 'at least one metric'],
    ['pay.all & "x"', 'the sign & has no place'],
    ['round(pay.all)', 'the function round has no place'],
    ['pay.all +', 'expected'],
    ['', 'expected'],
    [Array.from({ length: 11 }, (_, i) => `m${i}`).join('+'), 'at most 10 metrics'],
  ])('%s is refused in words', (text, message) => {
    expect(value(text, {})).toMatch(message);
  });

  test('what is nearly a name is suggested', () => {
    const parsed = parseMetricExpression('pay.alll / 2', metrics);
    expect(!parsed.ok && parsed.problem.suggestion).toBe('pay.all');
  });
});
