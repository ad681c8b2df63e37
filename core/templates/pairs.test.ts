import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { decode, encode } from '../events/text-table.ts';
import { readPairs } from './pairs.ts';

function pairs(line: string): (readonly [string, string])[] {
  const bytes = encode(line);
  const found: (readonly [string, string])[] = [];
  readPairs(bytes, 0, bytes.length, (nameStart, nameEnd, valueStart, valueEnd) => {
    found.push([decode(bytes, nameStart, nameEnd), decode(bytes, valueStart, valueEnd)]);
  });
  return found;
}

describe('pairs of a line', () => {
  test.each([
    ['a=1 b=two', ['a', '1'], ['b', 'two']],
    ['a=1,b=2;c=3', ['a', '1'], ['b', '2'], ['c', '3']],
    ['level=info msg="gate is open" lane=', ['level', 'info'], ['msg', 'gate is open'], ['lane', '']],
    ['words between a=1 and more', ['a', '1']],
    ['url=/fares?to=north', ['url', '/fares?to=north']],
    ['msg="said \\"go\\""', ['msg', 'said \\"go\\"']],
    ['msg="not closed', ['msg', 'not closed']],
    ['=1 a=2', ['a', '2']],
    ['', ...([] as [string, string][])],
  ] as const)('%j', (line, ...expected) => {
    expect(pairs(line)).toEqual(expected);
  });

  test('what is written as pairs is read again', () => {
    const name = fc.stringMatching(/^[a-z][a-z.]{0,5}$/);
    const value = fc.stringMatching(/^[a-z0-9/=:.]{1,8}$/).filter((text) => !text.startsWith('"'));
    fc.assert(
      fc.property(
        fc.array(fc.tuple(name, value), { maxLength: 8 }),
        fc.constantFrom(' ', ', ', '\t'),
        (all, between) => {
          expect(pairs(all.map(([key, text]) => `${key}=${text}`).join(between))).toEqual(all);
        },
      ),
    );
  });

  test('any line is gone through, and every span is in it', () => {
    fc.assert(
      fc.property(fc.stringMatching(/^[a=" ,\\]{0,40}$/), (line) => {
        const bytes = encode(line);
        readPairs(bytes, 0, bytes.length, (nameStart, nameEnd, valueStart, valueEnd) => {
          expect(nameStart).toBeLessThan(nameEnd);
          expect(nameEnd).toBeLessThanOrEqual(valueStart);
          expect(valueStart).toBeLessThanOrEqual(valueEnd);
          expect(valueEnd).toBeLessThanOrEqual(bytes.length);
        });
      }),
    );
  });
});
