import { expect, test } from 'vitest';
import { day, hour, minute } from '../events/time-units.ts';
import { explained, onsetOfRequests } from './testing/compared.ts';
import { plantedChanges } from './testing/planted.ts';
import { type Planted, requests } from './testing/traffic.ts';

const from = Date.UTC(2026, 10, 2);
const at = from + 4 * day + 10 * hour;
const until = at + 8 * hour;
const plants = plantedChanges(() => at);

function explain(index: number, seed = index + 1) {
  const planted = plants[index] as Planted;
  const all = [...requests(seed, { from, to: until }, 5, planted)];
  return { planted, explanation: explained(all, planted.measure, { at: planted.at, until, from }) };
}

/** One of each kind: more of a value, a new value, a value that ceases, a pair, a failure share, a percentile. */
test.each([0, 2, 8, 9, 14, 16, 19, 22, 23, 36, 39, 42, 44])('finds the cause of change %i', (index) => {
  const { planted, explanation } = explain(index);
  expect(explanation.verdict, planted.title).toBe('values');
  const where = Object.fromEntries(explanation.causes[0]?.where.map(({ field, value }) => [field, value]) ?? []);
  expect(planted.causes, planted.title).toContainEqual(where);
  expect(explanation.causes[0]?.share).toBeGreaterThan(0.7);
});

test.each([0, 14, 22])('finds when change %i began from all requests', (index) => {
  const planted = plants[index] as Planted;
  const all = [...requests(index + 1, { from, to: until }, 5, planted)];
  const onset = onsetOfRequests(all, from, { from: at - 4 * hour, to: until });
  expect(onset?.form).toBe('step');
  expect(Math.abs((onset?.began ?? 0) - at)).toBeLessThanOrEqual(20 * minute);
});

test('separates two causes without counting events twice', () => {
  const { planted, explanation } = explain(46);
  const found = explanation.causes
    .slice(0, 2)
    .map(({ where }) => Object.fromEntries(where.map((one) => [one.field, one.value])));
  for (const cause of planted.causes) expect(found).toContainEqual(cause);
  const shares = explanation.causes.reduce((sum, { share }) => sum + share, 0) + explanation.rest;
  expect(shares).toBeCloseTo(1, 5);
});

test('for an additive figure, the figure without a cause is the total minus its increase', () => {
  const { explanation } = explain(0);
  const [cause] = explanation.causes;
  expect(cause?.without).toBeCloseTo(explanation.since - ((cause?.since ?? 0) - (cause?.before ?? 0)), 5);
});

test('if everything increases, no small set of values is named, only how many it takes', () => {
  const { explanation } = explain(56);
  expect(explanation.verdict).toBe('spread');
  expect(explanation.causes).toEqual([]);
  expect(explanation.needed?.values).toBeGreaterThan(1);
});

test('without a change the figure is normal', () => {
  expect(explain(50).explanation.verdict).toBe('usual');
});

test('if all events cease no value is named; without any events there is nothing to compare', () => {
  const planted = plants[50] as Planted;
  const all = [...requests(1, { from, to: at }, 5, planted)];
  expect(explained(all, 'events', { at, until, from }).verdict).toBe('spread');
  expect(explained([], 'events', { at, until, from }).verdict).toBe('nothing');
});

test('a measured field is never a cause', () => {
  const { explanation } = explain(36);
  expect(explanation.causes.flatMap(({ where }) => where.map(({ field }) => field))).not.toContain('status');
});
