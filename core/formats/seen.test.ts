import { expect, test } from 'vitest';
import { formatsSeen } from './seen.ts';

test('formats are reported with their share, the commonest first', () => {
  const seen = formatsSeen(['plain', '{"a":1}', '<34>1 2026-11-24T08:00:00Z h a - - - x', '{"b":2}']);
  expect(seen.map(({ id, share }) => [id, share])).toEqual([
    ['json', 0.5],
    ['text', 0.25],
    ['rfc5424', 0.25],
  ]);
  expect(formatsSeen([])).toEqual([]);
});
