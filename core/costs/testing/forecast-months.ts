import { seededRandom } from '../../routing/route.ts';
import { forecastDays } from '../month/forecast.ts';

const rhythm = [1, 1.05, 1.02, 1, 0.95, 0.55, 0.5];

/** The day of the week of a day of a simulated month. */
export const weekday = (index: number): number => index % 7;

/** What happened to the volume of a simulated month, by the number of days since it began (-28 to 29). */
const happenings: readonly ((day: number) => number)[] = [
  // A rhythm alone, growth, a step, an outage, an incident.
  () => 1,
  (day) => 1.008 ** day,
  (day) => (day < -6 ? 1 : 1.6),
  (day) => (day === -2 || day === 1 ? 0.15 : 1),
  (day) => (day === 2 ? 10 : 1),
];
const monthsOfEach = 4;
const firstAsked = 5;

/** How forecasts over 20 simulated months went: four each of what may happen to a month. */
export interface ForecastResult {
  /** On each day from the fifth on: in how many of the months the end lay within the band. */
  readonly within: readonly number[];
  readonly months: number;
  /** Median distance of the end from what was expected on the fifth day, as a part of the end. */
  readonly errorOnDay5: number;
}

/** 28 days before the month and its 30 days. */
function simulated(happening: (day: number) => number, seed: number): readonly number[] {
  const random = seededRandom(seed);
  const normal = (): number => Math.sqrt(-2 * Math.log(random() || 1e-9)) * Math.cos(2 * Math.PI * random());
  return Array.from({ length: 58 }, (_, i) => {
    const noise = Math.exp(0.05 * normal());
    return 12 * (rhythm[weekday(i)] as number) * happening(i - 28) * noise;
  });
}

const sum = (values: readonly number[]): number => values.reduce((all, value) => all + value, 0);

/** Has the ends of simulated months forecast on each of their days. */
export function forecastMonths(): ForecastResult {
  const within = Array.from({ length: 30 - firstAsked }, () => 0);
  const errors: number[] = [];
  happenings.forEach((happening, kind) => {
    for (let seed = 0; seed < monthsOfEach; seed++) {
      const days = simulated(happening, 100 * kind + seed + 1);
      const whole = sum(days.slice(28));
      for (let day = firstAsked; day < 30; day++) {
        const forecast = forecastDays(days.slice(0, 28 + day), weekday, 30 - day);
        if (!forecast) throw new Error('there is a forecast');
        const spent = sum(days.slice(28, 28 + day));
        const isWithin = whole >= spent + forecast.low && whole <= spent + forecast.high;
        if (isWithin) within[day - firstAsked] = (within[day - firstAsked] ?? 0) + 1;
        if (day === firstAsked) errors.push(Math.abs(spent + forecast.middle - whole) / whole);
      }
    }
  });
  const sorted = errors.sort((a, b) => a - b);
  const middle = errors.length / 2;
  return {
    within,
    months: errors.length,
    errorOnDay5: ((sorted[middle - 1] ?? 0) + (sorted[middle] ?? 0)) / 2,
  };
}
