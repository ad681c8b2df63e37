import fc from 'fast-check';
import { expect, test } from 'vitest';
import { encode } from '../events/text-table.ts';
import { compilePattern } from './pattern.ts';

function matches(pattern: string, text: string, flags = ''): boolean {
  const bytes = encode(text);
  return compilePattern(pattern, flags).test(bytes, 0, bytes.length);
}

test.each([
  ['^u\\d{5}$', 'u12345', true],
  ['^u\\d{5}$', 'u1234', false],
  ['a|b', 'xb', true],
  ['^(ab)+$', 'ababab', true],
  ['^(ab)+$', 'aba', false],
  ['colou?r', 'the color', true],
  ['^[^0-9]+$', 'été', true],
  ['^.{3}$', 'été', true],
  ['é$', 'été', true],
  ['[a-c-]x', '-x', true],
  ['\\.', 'a.b', true],
  ['^\\S+$', 'a b', false],
  ['x{2,3}$', 'axx', true],
  ['(?:a|b)c', 'bc', true],
  ['', 'anything', true],
])('%s on %s', (pattern, text, expected) => {
  expect(matches(pattern, text)).toBe(expected);
});

test('it agrees with the language’s own engine', () => {
  const pattern = fc
    .string({
      unit: fc.constantFrom('a', 'b', 'c', '.', 'a*', 'b+', 'c?', '(a|b)', '[ab]', '[^a]', '^', '$', 'a{2}'),
      maxLength: 8,
    })
    .filter((text) => !/\^[*+?{]|\$[*+?{]/.test(text));
  const text = fc.string({ unit: fc.constantFrom(...'abc'), maxLength: 12 });
  fc.assert(
    fc.property(pattern, text, (source, subject) => {
      expect(matches(source, subject)).toBe(new RegExp(source).test(subject));
    }),
    { numRuns: 3_000 },
  );
});

test('a hostile pattern over a long text stays cheap: every byte is looked at once', () => {
  const text = encode(`${'a'.repeat(200_000)}!`);
  expect(compilePattern('^(a+)+$').test(text, 0, text.length)).toBe(false);
  expect(compilePattern('(a|a|aa)*b').test(text, 0, text.length)).toBe(false);
});

test.each(['(?=a)', '(?<!a)b', '(a)\\1', '\\bword', '[z-a]', 'a{9999}', '*a', '(a', 'a)'])(
  '%s is refused',
  (pattern) => {
    expect(() => compilePattern(pattern)).toThrow();
  },
);
