import { expect, test } from 'vitest';
import { batchOf } from '../testing/batch-of.ts';
import { withSizes } from './with-sizes.ts';

function sized(sizes: readonly number[], weights = sizes.map(() => 1)) {
  const batch = batchOf(
    sizes.map((_, i) => ({ i })),
    'tides',
  );
  return { ...batch, size: Uint32Array.from(sizes), weight: Float32Array.from(weights) };
}

test('sizes that are known stay as they are', () => {
  expect([...withSizes(sized([3, 9, 5]), 17).size]).toEqual([3, 9, 5]);
});

test('events of unknown size share what is left, to the byte', () => {
  expect([...withSizes(sized([0, 9, 0, 0]), 20).size]).toEqual([4, 9, 3, 4]);
  const { size } = withSizes(sized(new Array(7).fill(0)), 3_000);
  expect(size.reduce((sum, one) => sum + one, 0)).toBe(3_000);
  expect([...withSizes(sized([0, 0], [3, 1]), 40).size]).toEqual([10, 10]);
  expect([...withSizes(sized([50, 0]), 40).size]).toEqual([50, 0]);
});
