import { expect, test } from 'vitest';
import { spread } from './over-tape.ts';

const chunks = Array.from({ length: 240 }, (_, id) => ({ id, lines: 100 }));

test('a tape that is short enough is read whole', () => {
  expect(spread(chunks, 24_000)).toBe(chunks);
  expect(spread([], 10)).toEqual([]);
});

test('of a longer one chunks from all over it are read', () => {
  const used = spread(chunks, 6_000);
  expect(used).toHaveLength(60);
  for (let hour = 0; hour < 24; hour++) {
    const own = used.filter(({ id }) => Math.floor(id / 10) === hour).length;
    expect(own).toBeGreaterThanOrEqual(2);
    expect(own).toBeLessThanOrEqual(3);
  }
});
