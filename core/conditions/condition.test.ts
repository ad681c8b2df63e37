import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { arrival, batchOf } from '../testing/batch-of.ts';
import { compileCondition } from './condition.ts';
import { unknownFields } from './parse.ts';
import { parseTime, parseWindow } from './times.ts';

const batch = batchOf([{ msg: 'timeout after 3 tries', level: 'error', service: 'booking-api', status: 503 }]);

describe('what is wrong with a condition', () => {
  test.each([
    ['status == 200', 7, '='],
    ['status = ', 9, undefined],
    ['(a or b', 0, ')'],
    ['a )', 2, undefined],
    ['name matches /a', 13, '/'],
    ['name matches /(?=a)/', 14, undefined],
    ['name matches /(a)\\1/', 17, undefined],
    ['status in 5', 10, undefined],
    ['status:404', 0, 'status = 404'],
    ['"open', 0, '"'],
    ['a and', 5, undefined],
  ])('%s', (condition, position, suggestion) => {
    const compiled = compileCondition(condition);
    if (compiled.ok) throw new Error('was taken');
    expect(compiled.problem.start).toBe(position);
    expect(compiled.problem.suggestion).toBe(suggestion);
  });

  test('a field that no event has is reported with the nearest one', () => {
    expect(unknownFields('statsu = 200', ['status', 'service'])).toMatchObject([
      { start: 0, end: 6, suggestion: 'status' },
    ]);
    expect(unknownFields('bytes > 3kB', ['status', 'raw_bytes'])).toMatchObject([{ suggestion: 'raw_bytes' }]);
  });

  test('no text makes it throw', () => {
    fc.assert(
      fc.property(fc.string({ unit: fc.constantFrom(...'ab =<>()"`/\\*.,#!\n1ms'), maxLength: 40 }), (text) => {
        const compiled = compileCondition(text);
        if (compiled.ok) compiled.condition.test(batch, { now: arrival });
      }),
      { numRuns: 2_000 },
    );
  });
});

describe('times and windows', () => {
  test.each([
    ['now', arrival],
    ['-45m', arrival - 2_700_000],
    ['2026-11-24', Date.UTC(2026, 10, 24)],
    ['2026-11-24T08:15', Date.UTC(2026, 10, 24, 8, 15)],
    ['2026-11-24T08:15+02:00', Date.UTC(2026, 10, 24, 6, 15)],
    ['soon', undefined],
  ])('%s', (text, expected) => {
    expect(parseTime(text, arrival)).toBe(expected);
  });

  test('windows', () => {
    expect(parseWindow('-45m..-30m', arrival)).toEqual({ from: arrival - 2_700_000, to: arrival - 1_800_000 });
    expect(parseWindow('-1h', arrival)).toEqual({ from: arrival - 3_600_000, to: arrival });
    expect(parseWindow('-30m..-45m', arrival)).toBeUndefined();
  });
});
