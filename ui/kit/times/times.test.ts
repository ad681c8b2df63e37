import { afterEach, expect, test, vi } from 'vitest';
import { dayAndMinute, formatShown, inOtherZone, percent } from './times.ts';

const time = Date.UTC(2026, 10, 24, 23, 30);
const show = (times: string): void => {
  vi.stubGlobal('document', { documentElement: { dataset: { times } } });
};

afterEach(() => {
  vi.unstubAllGlobals();
  vi.unstubAllEnvs();
});

test("times are in the browser's zone, or in UTC if chosen", () => {
  vi.stubEnv('TZ', 'Europe/Oslo');
  expect(dayAndMinute(time)).toBe('Wed 25 Nov 00:30');
  show('utc');
  expect(dayAndMinute(time)).toBe('Tue 24 Nov 23:30');
  expect(formatShown(time, 'd MMM')).toBe('24 Nov');
});

test('tooltips have the other zone', () => {
  vi.stubEnv('TZ', 'Europe/Oslo');
  expect(inOtherZone(time)).toBe('2026-11-24T23:30:00.000Z');
  show('utc');
  expect(inOtherZone(time)).toBe('2026-11-25T00:30:00.000+01:00');
});

test('a share has a digit where it matters', () => {
  expect([0, 0.004, 0.5, 0.996, 1].map(percent)).toEqual(['0 %', '0.4 %', '50 %', '99.6 %', '100 %']);
});
