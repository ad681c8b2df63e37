import fc from 'fast-check';
import { expect, test } from 'vitest';
import { conditionOf } from '../conditions/condition.ts';
import { arrival, batchOf } from '../testing/batch-of.ts';
import { widened } from './widened.ts';

test.each([
  ['source = web client = x "timeout"', 'source = web has client'],
  ['severity >= error took > 100ms', 'severity >= error has took'],
  ['client in (a, b) status = 4*', 'has client has status'],
  ['`took-by path` = 3', 'has `took-by path`'],
  ['client != x', ''],
  ['not client = x', ''],
  ['client = x or client = y', ''],
  ['client = x # the partner\nport = west', 'has client has port'],
  ['', ''],
])('widens %s to %s', (text, wide) => {
  expect(widened(text)).toBe(wide);
});

test('a widened condition matches all events that the condition matches', () => {
  const value = fc.constantFrom('a', 'b', '1', '20', '*');
  const field = fc.constantFrom('port', 'gate', 'severity', 'source', 'body', 'missing');
  const operator = fc.constantFrom('=', '!=', '<', '>=');
  const compare = fc.tuple(field, operator, value).map((parts) => parts.join(' '));
  const part = fc.oneof(
    compare,
    compare.map((text) => `not ${text}`),
    fc.tuple(compare, compare).map(([one, other]) => `(${one} or ${other})`),
    field.map((name) => `has ${name}`),
    fc.constant('a'),
  );
  const batch = batchOf(
    [{ port: 'a', gate: '1' }, { port: 'b' }, { gate: '20' }, { port: 'a b' }, {}] as Record<string, string>[],
    'gates',
  );
  fc.assert(
    fc.property(fc.array(part, { maxLength: 4 }), (parts) => {
      const text = parts.join(' ');
      const matched = (condition: string): readonly number[] => [
        ...conditionOf(condition).test(batch, { now: arrival }),
      ];
      const wide = matched(widened(text));
      for (const [row, isMatched] of matched(text).entries()) if (isMatched) expect(wide[row]).toBe(1);
    }),
  );
});
