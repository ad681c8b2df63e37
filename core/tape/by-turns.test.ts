import { expect, test } from 'vitest';
import { byTurns } from './by-turns.ts';

test('each group has its first item before any has its second', () => {
  const parts = ['gates 0', 'gates 1', 'gates 2', 'tides 3', 'tides 4', 'fares 5'];
  expect(byTurns(parts, (part) => part.split(' ')[0] ?? '')).toEqual([
    ...['gates 0', 'tides 3', 'fares 5', 'gates 1', 'tides 4', 'gates 2'],
  ]);
  expect(byTurns([], String)).toEqual([]);
});
