import { expect, test } from 'vitest';
import { day, hour, minute } from '../events/time-units.ts';
import { seededRandom } from '../routing/route.ts';
import { bendWithin, changeWithin, levelsOf } from './change-points.ts';
import { beganWithin, figureSeries, onsetIn, onsetOf } from './onset.ts';
import { rhythmOf } from './rhythm.ts';

const start = Date.UTC(2026, 10, 2);
const width = 20 * minute;
const steps = (14 * day) / width;

/** Counts with a rhythm of the day and some scatter; `factor` says how many times as much there is in a stretch. */
function counts(factor: (time: number) => number, seed = 1) {
  const random = seededRandom(seed);
  for (let i = 0; i < 20; i++) random();
  const sums = Float64Array.from({ length: steps }, (_, i) => {
    const time = start + i * width;
    const usual = 400 * (1 + 0.6 * Math.sin(((time % day) / day) * 2 * Math.PI));
    if (factor(time) === 0) return 0;
    return Math.max(0, usual * factor(time) + Math.sqrt(usual) * (random() + random() + random() - 1.5) * 2);
  });
  return { start, width, sums };
}

const change = start + 10 * day + 9 * hour;
const window = { from: change - 5 * hour, to: start + 14 * day };

test('a series of nothing has no levels, one without changes has one', () => {
  expect(levelsOf({ values: new Float64Array(0), weights: new Float64Array(0) })).toEqual([]);
  const random = seededRandom(5);
  const values = Float64Array.from({ length: 500 }, () => 10 + random());
  expect(levelsOf({ values, weights: new Float64Array(500).fill(1) })).toHaveLength(1);
});

test('levels end where the figure changes', () => {
  const random = seededRandom(7);
  const values = Float64Array.from({ length: 600 }, (_, i) => (i < 200 ? 10 : i < 450 ? 14 : 9) + random() * 2);
  const levels = levelsOf({ values, weights: new Float64Array(600).fill(1) });
  expect(levels.map(({ from }) => from)).toEqual([0, 200, 450]);
});

test('the rhythm of the day is known by the median of days, and a rhythm is none of fewer than three', () => {
  const known = rhythmOf(
    counts(() => 1),
    start + 14 * day,
  );
  // Most comes a quarter through the day, least at three quarters.
  expect(known[18]).toBeGreaterThan(1.5);
  expect(known[54]).toBeLessThan(0.5);
  const { sums } = counts(() => 1);
  const short = rhythmOf({ start, width, sums: sums.subarray(0, 140) }, start + 14 * day);
  expect(short.every((part) => part === 1)).toBe(true);
});

test('a step is found under the rhythm of the day, and goes on', () => {
  const onset = onsetOf(
    counts((time) => (time >= change ? 1.4 : 1)),
    window,
  );
  expect(onset).toMatchObject({ form: 'step', began: change });
  expect(onset?.ended).toBeUndefined();
});

test('a spell ends, and what ceases is said to have ended', () => {
  const spell = onsetOf(
    counts((time) => (time >= change && time < change + 8 * hour ? 3 : 1)),
    window,
  );
  expect(spell).toMatchObject({ form: 'spell', began: change, ended: change + 8 * hour });
  expect(
    onsetOf(
      counts((time) => (time >= change ? 0 : 1)),
      window,
    ),
  ).toMatchObject({ form: 'end', began: change });
});

test('what comes little by little began where it began to rise', () => {
  const rise = (time: number): number => 1 + Math.min(2, Math.max(0, time - change) / (3 * hour));
  const onset = onsetOf(counts(rise), window);
  expect(onset?.form).toBe('drift');
  expect(Math.abs((onset?.began ?? 0) - change)).toBeLessThanOrEqual(2 * width);
});

test('what is as much at all hours on top of a rhythm is a step, not a drift', () => {
  const { sums, ...where } = counts(() => 1);
  const more = sums.map((sum, i) => sum + (start + i * width >= change ? 2_000 : 0));
  expect(onsetOf({ ...where, sums: more }, window)).toMatchObject({ form: 'step', began: change });
});

test('a change of long before the window is what is usual in it', () => {
  expect(
    onsetOf(
      counts((time) => (time >= start + day ? 3 : 1)),
      window,
    ),
  ).toBeUndefined();
});

test('a figure that is no count changes too', () => {
  const random = seededRandom(3);
  const figures = Float64Array.from(
    { length: steps },
    (_, i) => (start + i * width >= change ? 0.3 : 0.02) * (0.8 + 0.4 * random()),
  );
  figures[5] = Number.NaN;
  const series = figureSeries(figures, new Float64Array(steps).fill(200));
  expect(onsetIn(series, { start, width }, window)).toMatchObject({ form: 'step', began: change });
});

test('the minute is that from which on two rates fit best, of a drift the one where it bends', () => {
  const values = Float64Array.from({ length: 120 }, (_, i) => (i >= 71 ? 9 : 2) + (i % 3));
  const series = { values, weights: new Float64Array(120).fill(1) };
  expect(changeWithin(series, 0, 120)).toBe(71);
  expect(beganWithin(series, 'step')).toBe(71);
  // Nothing comes after what ceased.
  const ceased = { values: values.map((_, i) => (i >= 64 ? 0 : i % 2)), weights: series.weights };
  expect(beganWithin(ceased, 'step')).toBe(64);
  const rising = { values: values.map((_, i) => 5 + Math.max(0, i - 80) * 0.8 + (i % 2)), weights: series.weights };
  expect(Math.abs(beganWithin(rising, 'drift') - 80)).toBeLessThanOrEqual(2);
  expect(bendWithin(rising, 0, 120).cost).toBeLessThan(0.5);
});
