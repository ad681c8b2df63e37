import fc from 'fast-check';
import { expect, test } from 'vitest';
import { conditionOf } from '../conditions/condition.ts';
import { batchOf } from '../testing/batch-of.ts';
import { eachMatchingLine, hidesText, necessaryPatterns, rarestPattern } from './json-filter.ts';

const conditions = [
  'status >= 500',
  'status = 404',
  'service = booking-api',
  'path = /api/*',
  'name = "a b" status > 9',
  'status in (1, 2) has service',
  'not status = 5',
  'status >= 20 or service = x',
];

test('a line that fits a condition is never passed over', () => {
  const value = fc.oneof(
    fc.integer({ min: -600, max: 600 }),
    fc.double({ noNaN: true, min: -1e6, max: 1e6 }),
    fc.constantFrom('booking-api', 'Booking-API', '/api/x', '500', 'a b', '+501', true, null, 5e2, 404.0),
    fc.string({ maxLength: 5 }),
  );
  const event = fc.dictionary(fc.constantFrom('status', 'service', 'path', 'name', 'STATUS', 'other'), value);
  fc.assert(
    fc.property(fc.array(event, { minLength: 1, maxLength: 8 }), fc.constantFrom(...conditions), (events, text) => {
      const condition = conditionOf(text);
      const lines = events.map((each) => JSON.stringify(each));
      for (const pattern of necessaryPatterns(condition)) {
        const all = lines.join('\n');
        if (hidesText(all)) continue;
        const found = new Set<string>();
        eachMatchingLine(Buffer.from(all).toString('latin1'), pattern, (start, end) => {
          found.add(Buffer.from(all).subarray(start, end).toString());
        });
        const mask = condition.test(batchOf(events), { now: 0 });
        lines.forEach((line, row) => {
          if (mask[row] === 1) expect(found).toContain(line);
        });
      }
    }),
    { numRuns: 400 },
  );
});

test('the pattern that matches least is taken', () => {
  const patterns = necessaryPatterns(conditionOf('service = a status >= 500'));
  const rarest = rarestPattern(patterns, '{"service":"a","status":200}\n{"service":"a","status":503}');
  expect(rarest?.source).toContain('status');
  expect(necessaryPatterns(conditionOf('timeout or status = 3'))).toEqual([]);
});
