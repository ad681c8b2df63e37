import { expect, test } from 'vitest';
import { readByInWords } from './read-by.tsx';

const lastAt = Date.UTC(2026, 11, 1, 10, 2);
const since = Date.UTC(2026, 10, 20);

test('says how often something was read, and how old the oldest event was', () => {
  const readings = [
    { reading: 'search', times: 14, lastAt },
    { reading: 'export', times: 1, lastAt: lastAt - 1_000 },
  ] as const;
  const text = readByInWords({ since, readings, oldestAge: 3.4 * 86_400_000 });
  expect(text).toMatch(/^Read by 14 searches and 1 export in 30 days, last on .*\. The oldest event was 3 d old\.$/);
  expect(readByInWords({ since, readings, oldestAge: 5_000 })).toMatch(/less than a day old/);
});

test('tells unread things from those that nothing was counted for', () => {
  const unread = { readings: [], oldestAge: null };
  expect(readByInWords({ since: Date.now() - 86_400_000, ...unread })).toMatch(/^Not read since .*counting began/);
  expect(readByInWords({ since: Date.now() - 31 * 86_400_000, ...unread })).toBe('Not read in 30 days.');
  expect(readByInWords({ since: null, ...unread })).toMatch(/^Nothing has been read yet/);
});
