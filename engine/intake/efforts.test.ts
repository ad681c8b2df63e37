import { expect, test } from 'vitest';
import { Efforts } from './efforts.ts';

test('more effort than expected is believed at once, less of it by and by', () => {
  const efforts = new Efforts();
  const usual = efforts.expected('s', 1_000_000);
  efforts.learn('s', 1_000_000, 2_000);
  expect(efforts.expected('s', 1_000_000)).toBe(2_000);
  efforts.learn('s', 1_000_000, usual);
  const eased = efforts.expected('s', 1_000_000);
  expect(eased).toBeLessThan(2_000);
  expect(eased).toBeGreaterThan(usual * 2);
  for (let i = 0; i < 40; i++) efforts.learn('s', 1_000_000, usual);
  expect(efforts.expected('s', 1_000_000)).toBeCloseTo(usual, 0);
  expect(efforts.expected('another', 1_000_000)).toBe(usual);
});

test('a short delivery is expected to be quick, whatever longer ones took, and says nothing about them', () => {
  const efforts = new Efforts();
  efforts.learn('s', 40, 500);
  expect(efforts.expected('s', 1_000_000)).toBe(efforts.expected('another', 1_000_000));
  efforts.learn('s', 1_000_000, 5_000);
  expect(efforts.expected('s', 1_000)).toBeLessThan(1);
});
