import { expect, test } from 'vitest';
import { addToQuantiles, newQuantileSketch, quantile } from '../sketches/quantiles.ts';
import { measureOf, parseMeasure } from './measure.ts';
import { batchOfRequests } from './testing/compared.ts';
import { requests } from './testing/traffic.ts';

const from = Date.UTC(2026, 10, 2);
const planted = { title: 'nothing', at: from, measure: 'events', causes: [], isChange: false };
const some = [...requests(3, { from, to: from + 7_200_000 }, 30, planted)];
const batch = batchOfRequests(some);
const context = { tier: 'rest', now: from, currentShape: (id: string) => id };

/** The figure of all requests, from summed amounts. */
function figureOf(text: string): number {
  const measure = measureOf(text);
  const sums = new Float64Array(measure.width);
  for (const { to, values } of measure.amountsOf(batch, context))
    values.forEach((value, row) => {
      const at = typeof to === 'number' ? to : (to[row] as number);
      sums[at] = (sums[at] as number) + value;
    });
  return measure.figure(sums);
}

test('computes figures from sums', () => {
  const took = some.map((request) => request.took);
  const sum = took.reduce((all, value) => all + value, 0);
  const failed = some.filter(({ status }) => status >= 500).length;
  const sketch = newQuantileSketch();
  for (const value of took) addToQuantiles(sketch, value, 1);
  expect(figureOf('events')).toBe(some.length);
  expect(figureOf('bytes')).toBe(some.length * 200);
  expect(figureOf('sum(took)')).toBeCloseTo(sum, 6);
  expect(figureOf('avg(took)')).toBeCloseTo(sum / some.length, 6);
  expect(figureOf('sum(took) / count()')).toBeCloseTo(sum / some.length, 6);
  expect(figureOf('share of status >= 500')).toBeCloseTo(failed / some.length, 9);
  expect(Math.abs(figureOf('p95(took)') / quantile(sketch, 0.95) - 1)).toBeLessThan(0.03);
  expect(Math.abs(figureOf('distinct(client)') / new Set(some.map(({ client }) => client)).size - 1)).toBeLessThan(
    0.05,
  );
  expect(figureOf('count(nothing)')).toBe(0);
});

test('the cost of events is their price by source and tier, for themselves and their bytes', () => {
  const measure = measureOf('cost');
  const prices = new Map([['bookings\nrest', { perEvent: 0.01, perByte: 0.0001 }]]);
  const cost = (of: object): number =>
    measure
      .amountsOf(batch, { ...context, ...of })
      .reduce((all, { values }) => all + values.reduce((sum, value) => sum + value, 0), 0);
  expect(cost({ prices })).toBeCloseTo(some.length * (0.01 + 200 * 0.0001), 6);
  expect(cost({ prices, tier: 'unknown' })).toBe(0);
  expect(cost({})).toBe(0);
  expect(measure).toMatchObject({ isAdditive: true, isCost: true });
});

test('knows the fields of a measure, and whether it is additive', () => {
  expect(measureOf('events').isAdditive).toBe(true);
  expect(measureOf('sum(Took)')).toMatchObject({ isAdditive: true, fields: new Set(['took']) });
  expect(measureOf('p95(took)')).toMatchObject({ isAdditive: false, rankOf: 'took' });
  expect(measureOf('share of status >= 500 path = /a').fields).toEqual(new Set(['status', 'path']));
});

test.each([
  ['', /expected/i],
  ['p95(', /expected a field/],
  ['max(took)', /single event/],
  ['first(took)', /single event/],
  ['count(), sum(took)', /one figure/],
  ['count() by client', /without keys/],
  ['count() every 5m', /without keys/],
  ['share of status >=', /./],
])('refuses %s', (text, message) => {
  const parsed = parseMeasure(text);
  expect(parsed.ok).toBe(false);
  if (!parsed.ok) expect(parsed.problem.message).toMatch(message);
});

test('a fault in the condition of a share has its position in the measure', () => {
  const parsed = parseMeasure('share of (status = 5');
  if (parsed.ok) throw new Error('it was taken');
  expect(parsed.problem.start).toBeGreaterThanOrEqual('share of '.length);
});
