import fc from 'fast-check';
import { expect, test } from 'vitest';
import { arrival, batchOf } from '../testing/batch-of.ts';
import { conditionOf } from './condition.ts';
import { equals, equalsText, writeField } from './write.ts';

const picks = (condition: string, ...events: readonly object[]): readonly number[] => [
  ...conditionOf(condition).test(batchOf(events), { now: arrival }),
];

test.each<[string, string | number | boolean, string]>([
  ['path', '/health/ready', 'path = /health/ready'],
  ['agent', 'Kiosk 3 (quay)', 'agent = "Kiosk 3 (quay)"'],
  ['status', 404, 'status = 404'],
  ['open', true, 'open = true'],
  ['gate@64500.pier', '4', 'gate@64500.pier = "4"'],
  ['odd name', 'and', '`odd name` = "and"'],
  ['not', 'a*', '`not` = "a*"'],
])('%s and %j are written %s', (name, value, written) => {
  expect(equals(name, value)).toBe(written);
});

test('whatever the value, the condition picks the events that have it, and not those that have another', () => {
  const text = fc.oneof(
    fc.string({ minLength: 1, maxLength: 20 }),
    fc.constantFrom('250ms', '*', '"', '\\', 'a\\"b', '#x', '=', '..', '5..6', 'or', '/x/i', '`', '1e3', 'true', '(a)'),
  );
  fc.assert(
    fc.property(text, (value) => {
      if (value.trim() === '' || value !== value.trim()) return;
      expect(picks(equals('v', value), { v: value }, { v: `${value}x` }, { other: value })).toEqual([1, 0, 0]);
    }),
    { numRuns: 400 },
  );
});

test('whatever the number, too', () => {
  fc.assert(
    fc.property(fc.double({ noNaN: true, noDefaultInfinity: true }), (value) => {
      expect(picks(equals('v', value), { v: value }, { other: value })).toEqual([1, 0]);
    }),
  );
});

test('a name in back quotes is the name', () => {
  expect(picks(`has ${writeField('two words')}`, { 'two words': 1 }, { two: 1 })).toEqual([1, 0]);
});

test('a value that was written as text picks those that have it as a number, a text or a flag', () => {
  expect(equalsText('status', '404')).toBe('status = 404');
  expect(equalsText('code', '007')).toBe('code = "007"');
  expect(equalsText('code', '1e3')).toBe('code = "1e3"');
  const events = [{ code: 404 }, { code: '404' }, { code: 40 }] as const;
  expect(picks(equalsText('code', '404'), ...events)).toEqual([1, 1, 0]);
  expect(picks(equalsText('open', 'true'), { open: true }, { open: 'true' }, { open: false })).toEqual([1, 1, 0]);
});
