import { expect, test } from 'vitest';
import { untilItsEnd } from './until-its-end.ts';

const currency = { sign: 'cr', digits: 2 };

test('volume and cost are those of the whole span', () => {
  const anHour = { events: 100, bytes: 25_000, coins: 50 };
  expect(untilItsEnd(anHour, '4h', currency)).toBe(
    'keeps ≈ 100 kB, 400 events more by its end, which cost ≈ cr\u00a02.00, at the rate of the last 24 h',
  );
  expect(untilItsEnd(anHour, '1d', undefined)).toBe(
    'keeps ≈ 600 kB, 2,400 events more by its end, at the rate of the last 24 h',
  );
});

test('a cost below a coin is rounded up', () => {
  const little = { events: 60, bytes: 5_000, coins: 0.2 };
  expect(untilItsEnd(little, '1h', currency)).toContain('which cost less than cr\u00a00.01,');
});

test('an override without more events says so, and what longer retention costs', () => {
  expect(untilItsEnd({ events: 0, bytes: 0, coins: 0 }, '1h', currency)).toBe(
    'at the rate of the last 24 h it would keep nothing more',
  );
  expect(untilItsEnd({ events: 0, bytes: 0, coins: 30 }, '2h', currency)).toContain('≈ cr\u00a00.60 by its end');
});
