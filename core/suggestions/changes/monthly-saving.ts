import { daysOfMonth } from '../../costs/retention/lifetime.ts';
import { studentQuantile } from '../../sketches/student.ts';

/** What a change saves in 30 days, in coins, and half of the 95 % band. */
export interface MonthlySaving {
  readonly coins: number;
  readonly band: number;
}

/** A month of days like those given, each with what it would have saved (coins); the band follows from how much the days differ. */
export function monthlySaving(days: readonly number[]): MonthlySaving {
  const { length } = days;
  const mean = days.reduce((sum, saved) => sum + saved, 0) / length;
  const squares = days.reduce((sum, saved) => sum + (saved - mean) ** 2, 0);
  const error = length > 1 ? Math.sqrt(squares / (length - 1) / length) : 0;
  return {
    coins: Math.round(mean * daysOfMonth),
    band: Math.round(studentQuantile(length - 1) * error * daysOfMonth),
  };
}
