import { expect, test } from 'vitest';
import { whyCut } from './cut-stretch.ts';

const window = { from: 1_500, to: 9_000 };

test.each([
  [1_000, 9_000, 'cut by the window'],
  [2_000, 9_000, undefined],
  [8_000, 9_000, undefined],
  [8_500, 9_000, 'incomplete'],
  [8_500, 9_500, 'cut by the window'],
  [8_500, 20_000, 'cut by the window'],
])('a second from %d at %d', (time, now, why) => {
  expect(whyCut({ time, every: 1_000 }, window, now)).toBe(why);
});
