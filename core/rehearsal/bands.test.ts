import { expect, test } from 'vitest';
import { seededRandom } from '../routing/route.ts';
import { bandsOf } from './bands.ts';
import type { Move } from './moves.ts';
import { sinceLastStep } from './since-last-step.ts';
import { excluded, kept } from './testing/transitions.ts';
import { slotCount } from './transitions.ts';

function moveOf(bytes: number, days: readonly number[], residuals: readonly number[] = []): Move {
  return {
    ...{ source: 'gates', shape: '', live: kept, draft: excluded, events: bytes, bytes, days },
    ...{ slots: [], extra: [] },
    residuals: Array.from({ length: slotCount }, (_, slot) => residuals[slot] ?? 0),
  };
}
const draftBand = (moves: readonly Move[], span: number): number =>
  bandsOf(
    moves,
    () => 0,
    () => 1,
    span,
  ).draft;

/** About normal: the sum of twelve even chances. */
function normal(random: () => number): number {
  return Array.from({ length: 12 }, random).reduce((sum, value) => sum + value, -6);
}

test.each([
  { span: 1, rhythm: 0.3 },
  { span: 4, rhythm: 0.3 },
  { span: 7, rhythm: 0.3 },
  { span: 14, rhythm: 0.3 },
  { span: 7, rhythm: 0 },
])(
  'the mean of the seven days to come lies in the band of $span days, with weekdays that differ by $rhythm',
  ({ span, rhythm }) => {
    const weekdays = [0, 0.2, 0.3, 0.1, 0.4, -0.8, -0.2].map((day) => 1 + rhythm * day);
    const random = seededRandom(span * 7 + 1);
    let inside = 0;
    let width = 0;
    for (let trial = 0; trial < 400; trial++) {
      // The week may begin on any day: a span of one day meets each.
      const day = (at: number): number => 1e6 * (weekdays[(at + trial) % 7] as number) * (1 + 0.02 * normal(random));
      const past = Array.from({ length: 14 }, (_, at) => day(at));
      const mean = (list: readonly number[]): number => list.reduce((sum, value) => sum + value, 0) / list.length;
      const predicted = mean(past.slice(14 - span));
      const came = mean(Array.from({ length: 7 }, (_, at) => day(14 + at)));
      const band = draftBand([moveOf(predicted, past)], span);
      width += band / predicted / 400;
      if (Math.abs(came - predicted) <= band) inside++;
    }
    expect(inside).toBeGreaterThanOrEqual(0.92 * 400);
    // Whole weeks know nothing of weekdays: 2 % a day is 2 to 4 % of a week.
    if (span % 7 === 0) expect(width).toBeLessThan(0.04);
  },
);

test('a week that differs from the one before widens the band', () => {
  const steady = Array.from({ length: 14 }, (_, day) => 1_000 + (day % 7));
  const grown = steady.map((bytes, day) => (day < 7 ? bytes : bytes * 1.15));
  expect(draftBand([moveOf(1_000, steady)], 7)).toBeLessThan(1);
  const band = draftBand([moveOf(1_150, grown)], 7);
  expect(band).toBeGreaterThan(150);
  expect(band).toBeLessThan(200);
});

test('what went to another level is judged by the days since; a mean over both levels is not what is to come', () => {
  const stepped = Array.from({ length: 14 }, (_, day) => (day < 6 ? 100 : 1_000) + (day % 3));
  expect(sinceLastStep(Float64Array.from(stepped))).toHaveLength(7);
  const within = stepped.map((bytes, day) => (day === 6 ? 500 : bytes));
  expect(draftBand([moveOf(1_001, within)], 1)).toBeLessThan(5);
  expect(draftBand([moveOf(1_001, stepped)], 1)).toBeLessThan(5);
  expect(draftBand([moveOf(615, stepped)], 14)).toBeGreaterThan(380);
});

test.each([
  ['a rhythm of weekdays', [5, 5, 5, 5, 5, 3, 3, 5, 5, 5, 5, 5, 3, 3]],
  ['a single day', [5, 5, 5, 5, 50, 5, 5, 5, 5, 5, 5, 5, 5, 5]],
  ['growth', Array.from({ length: 14 }, (_, day) => 1_000 * 1.01 ** day)],
  ['nothing', new Array(14).fill(0)],
  ['five days', [1, 1, 9, 9, 9]],
])('%s is no step', (_, days) => {
  expect(sinceLastStep(Float64Array.from(days))).toHaveLength(days.length);
});

test('shares that differ from slot to slot are less sure; those that cancel are sure', () => {
  const uneven = moveOf(1_000, [], [60, -60, 30, -30]);
  const other = { ...uneven, draft: kept, residuals: uneven.residuals.map((value) => -value) };
  expect(draftBand([uneven], 0)).toBeGreaterThan(2 * 90);
  expect(draftBand([uneven, other], 0)).toBe(0);
  const keeps = bandsOf(
    [uneven, other],
    () => 1,
    ({ draft }) => (draft === kept ? 1 : 0),
    0,
  );
  expect(keeps.draft).toBe(draftBand([uneven], 0));
  expect(keeps.change).toBe(keeps.draft);
});

test('two days say nothing about how much days differ, and what is new does not vary for that', () => {
  expect(draftBand([moveOf(1_000, [10, 5_000])], 1)).toBe(0);
  const fresh = moveOf(1_000, [...new Array(13).fill(0), 1_000]);
  expect(draftBand([fresh], 1)).toBeLessThan(3_000);
  expect(draftBand([], 7)).toBe(0);
});
