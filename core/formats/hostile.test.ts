import { expect, test } from 'vitest';
import { encode } from '../events/text-table.ts';
import { slowdown } from '../testing/slowdown.ts';
import { readRecords } from './read.ts';
import { joinMessages } from './records.ts';

/** Lines made to be slow to read, of about a length. */
const hostile: readonly (readonly [string, (length: number) => string])[] = [
  ['JSON of nested lists', (length) => `{"a":${'['.repeat(length / 2)}${']'.repeat(length / 2)}}`],
  ['JSON of escapes', (length) => `{"a":"${'\\\\'.repeat(length / 2)}"}`],
  ['JSON that is never closed', (length) => `{"a":{"b":"${'x'.repeat(length)}`],
  ['syslog of brackets', (length) => `<14>1 - h a - - ${'[a b="'.repeat(length / 6)}`],
  ['syslog of quotes', (length) => `<14>1 - h a - - [a ${'b="\\"" '.repeat(length / 7)}] x`],
  ['old syslog of blanks', (length) => `<14>Nov 24 09:41:12 ${' '.repeat(length)}`],
  ['text of blanks', (length) => `${' '.repeat(length)}x`],
];

test.each(hostile)('%s takes time in proportion to its length', (_, make) => {
  const context = { received: 0, backfill: false };
  const prepare = (length: number) => {
    const records = joinMessages([encode(make(length))]);
    return () => readRecords('s', records, 'auto', context);
  };
  // Sixteen times the length: time in proportion gives about 16, quadratic time 256.
  expect(slowdown(prepare, [8_000, 128_000])).toBeLessThan(100);
});
