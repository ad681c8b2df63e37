import fc from 'fast-check';
import { expect, test } from 'vitest';
import { severityFromBytes, severityFromNumber, severityFromText } from './severity.ts';
import { encode } from './text-table.ts';

test('bytes say what their text says, however often and in whatever order they come', () => {
  const word = fc.oneof(
    fc.constantFrom(
      'info',
      'INFO',
      'warn',
      'Warning',
      'e',
      'E',
      'error',
      'fatal',
      'debug ',
      ' trace',
      'inf',
      'emergency',
      '',
    ),
    fc.string({ maxLength: 16 }),
  );
  fc.assert(
    fc.property(fc.array(word, { maxLength: 40 }), (words) => {
      for (const text of words) {
        const bytes = encode(`x${text}x`);
        expect(severityFromBytes(bytes, 1, bytes.length - 1)).toBe(severityFromText(text));
      }
    }),
    { numRuns: 300 },
  );
});

test.each([
  [10, 1],
  [20, 5],
  [30, 9],
  [40, 13],
  [50, 17],
  [60, 21],
  [9, 9],
  [24, 24],
  [25, 0],
  [0, 0],
  [-1, 0],
  [9.5, 0],
])('the number %d means severity %d', (number, severity) => {
  expect(severityFromNumber(number)).toBe(severity);
});
