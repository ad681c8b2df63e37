import { expect, test } from 'vitest';
import { seededRandom } from '../routing/route.ts';
import { fewestDays, forecastDays } from './forecast.ts';

const rhythm = [1, 1.05, 1.02, 1, 0.95, 0.55, 0.5];
const weekday = (index: number): number => index % 7;

/** What happened to the volume of a simulated month, by the number of days since it began (-28 to 29). */
type Happening = (day: number, random: () => number) => number;

const happenings: readonly (readonly [string, Happening])[] = [
  ['rhythm', () => 1],
  ['growth', (day) => 1.008 ** day],
  ['a step', (day) => (day < -6 ? 1 : 1.6)],
  ['an outage', (day) => (day === -2 || day === 1 ? 0.15 : 1)],
  ['an incident', (day) => (day === 2 ? 10 : 1)],
];

/** 28 days before the month and its 30 days. */
function simulated(happening: Happening, seed: number): readonly number[] {
  const random = seededRandom(seed);
  const normal = (): number => Math.sqrt(-2 * Math.log(random() || 1e-9)) * Math.cos(2 * Math.PI * random());
  return Array.from({ length: 58 }, (_, i) => {
    const noise = Math.exp(0.05 * normal());
    return 12 * (rhythm[weekday(i)] as number) * happening(i - 28, random) * noise;
  });
}

const sum = (values: readonly number[]): number => values.reduce((all, value) => all + value, 0);

test('over months with rhythm, growth, a step, an outage and an incident the end lies within the band on each day', () => {
  const perDay = new Map<number, { inside: number; months: number }>();
  const early: number[] = [];
  happenings.forEach(([, happening], kind) => {
    for (let seed = 0; seed < 4; seed++) {
      const days = simulated(happening, 100 * kind + seed + 1);
      const whole = sum(days.slice(28));
      for (let day = 5; day <= 29; day++) {
        const forecast = forecastDays(days.slice(0, 28 + day), weekday, 30 - day);
        if (!forecast) throw new Error('there is a forecast');
        const spent = sum(days.slice(28, 28 + day));
        const counted = perDay.get(day) ?? { inside: 0, months: 0 };
        counted.months++;
        if (whole >= spent + forecast.low && whole <= spent + forecast.high) counted.inside++;
        perDay.set(day, counted);
        if (day === 5) early.push(Math.abs(spent + forecast.middle - whole) / whole);
      }
    }
  });
  for (const [day, { inside, months }] of perDay) expect(inside / months, `day ${day}`).toBeGreaterThanOrEqual(0.9);
  const sorted = early.sort((a, b) => a - b);
  expect((sorted[9] as number) + (sorted[10] as number)).toBeLessThan(2 * 0.06);
});

test('of too few days nothing is told, of days that cost nothing that they will not', () => {
  expect(forecastDays([1, 2, 3], weekday, 10)).toBeUndefined();
  const nothing = forecastDays(
    Array.from({ length: 20 }, () => 0),
    weekday,
    10,
  );
  expect(nothing?.high).toBeLessThan(1e-6);
  const few = forecastDays(
    Array.from({ length: fewestDays }, () => 5),
    weekday,
    10,
  );
  expect(few?.middle).toBeCloseTo(50);
  expect(few?.high).toBeGreaterThan(54);
  expect(
    forecastDays(
      Array.from({ length: 400 }, () => 5),
      weekday,
      3,
    )?.byDay,
  ).toHaveLength(3);
});
