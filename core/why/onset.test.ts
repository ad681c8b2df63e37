import { expect, test } from 'vitest';
import { day, hour, minute } from '../events/time-units.ts';
import { seededRandom } from '../routing/route.ts';
import { bendWithin, changeWithin, levelsOf } from './change-points.ts';
import { beganWithin, figureSeries, onsetIn, onsetOf } from './onset.ts';
import { rhythmOf } from './rhythm.ts';

const start = Date.UTC(2026, 10, 2);
const width = 20 * minute;
const steps = (14 * day) / width;

/** Counts with a daily rhythm and noise; `factor` multiplies them. */
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

test('an empty series has no levels, a constant one has one', () => {
  expect(levelsOf({ values: new Float64Array(0), weights: new Float64Array(0) })).toEqual([]);
  const random = seededRandom(5);
  const values = Float64Array.from({ length: 500 }, () => 10 + random());
  expect(levelsOf({ values, weights: new Float64Array(500).fill(1) })).toHaveLength(1);
});

test('a new level starts where the figure changes', () => {
  const random = seededRandom(7);
  const values = Float64Array.from({ length: 600 }, (_, i) => (i < 200 ? 10 : i < 450 ? 14 : 9) + random() * 2);
  const levels = levelsOf({ values, weights: new Float64Array(600).fill(1) });
  expect(levels.map(({ from }) => from)).toEqual([0, 200, 450]);
});

test('the daily rhythm is the median over days, and needs three of them', () => {
  const known = rhythmOf(
    counts(() => 1),
    start + 14 * day,
  );
  // The peak is at a quarter of the day, the minimum at three quarters.
  expect(known[18]).toBeGreaterThan(1.5);
  expect(known[54]).toBeLessThan(0.5);
  const { sums } = counts(() => 1);
  const short = rhythmOf({ start, width, sums: sums.subarray(0, 140) }, start + 14 * day);
  expect(short.every((part) => part === 1)).toBe(true);
});

test('finds a step under a daily rhythm', () => {
  const onset = onsetOf(
    counts((time) => (time >= change ? 1.4 : 1)),
    window,
  );
  expect(onset).toMatchObject({ form: 'step', began: change });
  expect(onset?.ended).toBeUndefined();
});

test('finds the end of a temporary change, and a stop', () => {
  const temporary = onsetOf(
    counts((time) => (time >= change && time < change + 8 * hour ? 3 : 1)),
    window,
  );
  expect(temporary).toMatchObject({ form: 'temporary', began: change, ended: change + 8 * hour });
  expect(
    onsetOf(
      counts((time) => (time >= change ? 0 : 1)),
      window,
    ),
  ).toMatchObject({ form: 'stopped', began: change });
});

test('finds the start of a ramp', () => {
  const rise = (time: number): number => 1 + Math.min(2, Math.max(0, time - change) / (3 * hour));
  const onset = onsetOf(counts(rise), window);
  expect(onset?.form).toBe('ramp');
  expect(Math.abs((onset?.began ?? 0) - change)).toBeLessThanOrEqual(2 * width);
});

test('a constant addition to a rhythm is a step, not a ramp', () => {
  const { sums, ...where } = counts(() => 1);
  const more = sums.map((sum, i) => sum + (start + i * width >= change ? 2_000 : 0));
  expect(onsetOf({ ...where, sums: more }, window)).toMatchObject({ form: 'step', began: change });
});

test('a change long before the window is the normal level in it', () => {
  expect(
    onsetOf(
      counts((time) => (time >= start + day ? 3 : 1)),
      window,
    ),
  ).toBeUndefined();
});

test('finds the change of a figure that is not a count', () => {
  const random = seededRandom(3);
  const figures = Float64Array.from(
    { length: steps },
    (_, i) => (start + i * width >= change ? 0.3 : 0.02) * (0.8 + 0.4 * random()),
  );
  figures[5] = Number.NaN;
  const series = figureSeries(figures, new Float64Array(steps).fill(200));
  expect(onsetIn(series, { start, width }, window)).toMatchObject({ form: 'step', began: change });
});

test('the minute is where two rates fit best, or where a ramp bends', () => {
  const values = Float64Array.from({ length: 120 }, (_, i) => (i >= 71 ? 9 : 2) + (i % 3));
  const series = { values, weights: new Float64Array(120).fill(1) };
  expect(changeWithin(series, 0, 120)).toBe(71);
  expect(beganWithin(series, 'step')).toBe(71);
  // No counts after a stop.
  const ceased = { values: values.map((_, i) => (i >= 64 ? 0 : i % 2)), weights: series.weights };
  expect(beganWithin(ceased, 'step')).toBe(64);
  const rising = { values: values.map((_, i) => 5 + Math.max(0, i - 80) * 0.8 + (i % 2)), weights: series.weights };
  expect(Math.abs(beganWithin(rising, 'ramp') - 80)).toBeLessThanOrEqual(2);
  expect(bendWithin(rising, 0, 120).cost).toBeLessThan(0.5);
});
