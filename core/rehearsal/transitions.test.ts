import { expect, test } from 'vitest';
import { excluded, transitionOf, transitionsOf } from './testing/transitions.ts';
import { mergeTransitions, type Transitions } from './transitions.ts';

test('past the limit, new shapes count as having none; known ones keep theirs', () => {
  const many = Array.from({ length: 20_000 }, (_, i) => transitionOf({ shape: `shape ${i}`, bytes: 1 }));
  const into: Transitions = new Map();
  mergeTransitions(into, transitionsOf(many));
  const more = [
    transitionOf({ shape: 'shape 7', bytes: 10 }),
    transitionOf({ shape: 'new', bytes: 100 }),
    transitionOf({ shape: 'newer', bytes: 1_000, draft: excluded }),
    transitionOf({ shape: 'newest', bytes: 10_000 }),
  ];
  mergeTransitions(into, transitionsOf(more));
  const of = (shape: string): readonly number[] =>
    [...into.values()].filter((one) => one.shape === shape).map(({ bytes }) => bytes);
  expect(of('shape 7')).toEqual([11]);
  expect(of('')).toEqual([10_100, 1_000]);
  expect([...into.values()].reduce((sum, { bytes }) => sum + bytes, 0)).toBe(20_000 + 11_110);
});
