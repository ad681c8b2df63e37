import { expect, test } from 'vitest';
import { spread, tapeParts } from './over-tape.ts';

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

test('each source is read as far as its share goes, and stands for itself', () => {
  const listed = [
    ...Array.from({ length: 100 }, (_, id) => ({ id, source: 'booking-web', lines: 100 })),
    ...Array.from({ length: 10 }, (_, i) => ({ id: 200 + i, source: 'gates', lines: 100 })),
    { id: 300, source: 'tides', lines: 7 },
  ];
  const linesOf = (chunk: number): number => listed.find(({ id }) => id === chunk)?.lines ?? 0;
  const parts = tapeParts(listed, 1_100);
  const sums = new Map<string, number>();
  for (const { chunks: ids, standsFor } of parts) {
    for (const id of ids) {
      const source = listed.find((chunk) => chunk.id === id)?.source ?? '';
      sums.set(source, (sums.get(source) ?? 0) + linesOf(id) * standsFor);
    }
  }
  expect([...sums].map(([source, sum]) => [source, Math.round(sum)])).toEqual([
    ['booking-web', 10_000],
    ['gates', 1_000],
    ['tides', 7],
  ]);
  expect(parts.flatMap(({ chunks: ids }) => ids).reduce((sum, id) => sum + linesOf(id), 0)).toBeLessThan(1_300);
  const whole = tapeParts(listed, 1e6);
  expect(whole.every(({ standsFor }) => standsFor === 1)).toBe(true);
  expect(whole.flatMap(({ chunks: ids }) => ids)).toHaveLength(listed.length);
});
