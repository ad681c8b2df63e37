import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { openLog } from './log.ts';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

test('the same message is written once a minute, with how often it was left out', () => {
  const lines: { msg: string; level: number }[] = [];
  const log = openLog('info', { write: (line) => lines.push(JSON.parse(line)) });
  for (let i = 0; i < 500; i++) log.warn({ err: new Error(`${i}`) }, 'The store is away.');
  log.error('Something else.');
  vi.advanceTimersByTime(61_000);
  log.warn('The store is away.');
  log.debug('Not at this level.');
  expect(lines.map(({ msg }) => msg)).toEqual([
    'The store is away.',
    'Something else.',
    'The store is away. (499 times more since this was last written)',
  ]);
});
