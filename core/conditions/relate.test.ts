import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { arrival, batchOf } from '../testing/batch-of.ts';
import { conditionOf } from './condition.ts';
import { canNeverHold, impliesAny } from './relate.ts';

const implied = (one: string, ...others: readonly string[]): boolean =>
  impliesAny(
    conditionOf(one).node,
    others.map((other) => conditionOf(other).node),
  );
const never = (...conditions: readonly string[]): boolean =>
  canNeverHold(conditions.map((one) => conditionOf(one).node));

describe('every event that meets one condition meets another', () => {
  test.each([
    ['source = gates', ''],
    ['source = gates severity >= error', 'severity >= warn'],
    ['severity = error', 'severity in (error, fatal)'],
    ['status = 503', 'status >= 500'],
    ['status in 500..503', 'status in 500..599'],
    ['status in (500, 503)', 'status in (503, 500, 404)'],
    ['path = /health', 'has path'],
    ['source = gates', 'source in (gates, piers)'],
    ['source = gates', 'not source = piers'],
    ['"learned address" source = x', '"learned address"'],
    ['not (a = 1 or b = 2)', 'not a = 1'],
    ['status = 500 not status = 500', 'a = b'],
  ])('%s: %s', (one, other) => expect(implied(one, other)).toBe(true));

  test('or one of several others', () => {
    expect(implied('source in (gates, piers)', 'source = gates', 'source = piers')).toBe(true);
    expect(implied('source in (gates, tides)', 'source = gates', 'source = piers')).toBe(false);
    expect(implied('source = gates or source = piers', 'source = gates', 'source = piers')).toBe(true);
  });

  test.each([
    ['', 'source = gates'],
    ['severity >= warn', 'severity >= error'],
    ['status >= 500', 'status = 503'],
    ['path = /health*', 'path = /health'],
    ['fleet = piers', 'not fleet = gates'],
    ['not status = 500', 'has status'],
  ])('%s: %s is not so, or not known', (one, other) => expect(implied(one, other)).toBe(false));
});

test('what can never hold together is reported', () => {
  expect(never('source = gates', 'source = piers')).toBe(true);
  expect(never('severity >= error', 'severity = info')).toBe(true);
  expect(never('status < 400', 'status in 500..599')).toBe(true);
  expect(never('source in (a, b)', 'not (source = a or source = b)')).toBe(true);
  expect(never('fleet = a', 'fleet = b')).toBe(false);
  expect(never('status < 400', 'path = /x')).toBe(false);
  // Of what would be taken apart into very many parts nothing is said.
  const many = Array.from({ length: 12 }, (_, i) => `(a${i} = 1 or b${i} = 2)`).join(' ');
  expect(never(many, 'x = 1', 'x = 2')).toBe(false);
});

test('what is said agrees with what events do', () => {
  const values = ['1', '2', '10', '"2"', 'on', '1.5', '2ms'];
  const value = fc.constantFrom(...values, '2*', '"10"', '"2*"');
  const field = fc.constantFrom('a', 'b', 'severity', 'source');
  const leaf = fc.oneof(
    fc.tuple(field, fc.constantFrom('=', '!=', '<', '<=', '>', '>='), value).map((parts) => parts.join(' ')),
    fc
      .tuple(field, fc.array(value, { minLength: 1, maxLength: 3 }))
      .map(([name, list]) => `${name} in (${list.join(', ')})`),
    fc.tuple(field, fc.constantFrom('1..2', '2..10', '..5')).map(([name, range]) => `${name} in ${range}`),
    field.map((name) => `has ${name}`),
    fc.constantFrom('severity >= warn', 'severity = error', 'severity < error', 'source = test', 'word'),
  );
  const { condition } = fc.letrec((tie) => ({
    condition: fc.oneof({ depthSize: 'small' }, leaf, tie('both'), tie('not')),
    both: fc
      .tuple(tie('condition'), fc.constantFrom('or', 'and'), tie('condition'))
      .map(([one, join, other]) => `(${one} ${join} ${other})`),
    not: tie('condition').map((one) => `not (${one})`),
  }));
  const written = [1, 2, 10, 1.5, '2', '10', 'on', 'ON', '1', '2ms', true, '20', 0.002];
  const events = written.flatMap((a) =>
    [undefined, ...written.slice(0, 6)].map((b, i) => ({
      a,
      ...(b !== undefined && { b }),
      ...(i % 3 > 0 && { level: ['info', 'error', 'warn'][i % 3] }),
      msg: i % 2 ? 'a word' : '',
    })),
  );
  // Without any of them too.
  const batch = batchOf([...events, { b: 1 }, { msg: 'word' }]);
  const context = { now: arrival };
  fc.assert(
    fc.property(condition, condition, (one, other) => {
      const [mine, theirs] = [conditionOf(String(one)), conditionOf(String(other))];
      const [is, isToo] = [mine.test(batch, context), theirs.test(batch, context)];
      if (impliesAny(mine.node, [theirs.node]))
        for (let row = 0; row < batch.rows; row++) expect(is[row] === 1 && isToo[row] === 0).toBe(false);
      if (canNeverHold([mine.node, theirs.node]))
        for (let row = 0; row < batch.rows; row++) expect(is[row] === 1 && isToo[row] === 1).toBe(false);
    }),
    { numRuns: 3_000 },
  );
});
