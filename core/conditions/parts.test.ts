import fc from 'fast-check';
import { expect, test } from 'vitest';
import { compileCondition } from './condition.ts';
import { partsOf, withoutPart, withPart } from './parts.ts';

test('the parts are those of which all have to hold', () => {
  expect(partsOf('severity >= error (status = 500 or took > 2s) not path = /health* "lost it"')).toEqual([
    'severity >= error',
    '(status = 500 or took > 2s)',
    'not path = /health*',
    '"lost it"',
  ]);
  expect(partsOf('lane = north and user matches /^u\\d+$/i and status in (200, 404)')).toEqual([
    'lane = north',
    'user matches /^u\\d+$/i',
    'status in (200, 404)',
  ]);
  expect(partsOf('a or b c')).toEqual(['a or b c']);
  expect(partsOf('(a or b) c\n# not yet\nhas lane  ')).toEqual(['(a or b)', 'c', 'has lane']);
  expect([partsOf(''), partsOf('status =='), partsOf('   ')]).toEqual([[], [], []]);
});

test('a part is taken out and put back', () => {
  expect(withoutPart('a status = 200 b', 1)).toBe('a b');
  expect(withoutPart('a', 0)).toBe('');
  expect(withPart('', 'b')).toBe('b');
  expect(withPart('a or c', 'b')).toBe('(a or c) b');
  expect(withPart('(a or c)', 'b')).toBe('(a or c) b');
  expect(partsOf(withPart('a\n# not yet', 'b'))).toEqual(['a', 'b']);
  expect(partsOf(withPart('a or c\n# not yet', 'b'))).toHaveLength(2);
});

const part = fc.constantFrom('a', 'status = 200', 'not b', '(a or b)', 'has lane', '"a b"', 'saved:x', 'n in 1..2');

test('the parts together are the condition again', () => {
  const all = fc.array(part, { minLength: 1, maxLength: 6 });
  fc.assert(
    fc.property(all, fc.constantFrom(' ', ' and ', '  '), (parts, between) => {
      expect(partsOf(parts.join(between))).toEqual(parts);
      const grown = parts.reduce((text, one) => withPart(text, one), '');
      expect(partsOf(grown)).toEqual(parts);
      expect(compileCondition(grown).ok).toBe(!parts.includes('saved:x'));
    }),
  );
});
