import { type DaySeries, firstDayOf, receivedByDay, volumeBetween } from '../day-series.ts';
import { forecastDays } from './forecast.ts';

/** Full days that the share of a series is taken from, so that every weekday counts once. */
const averagedDays = 7;
/** Days it is taken from if the share changed for good before them, for example by a new exclusion. */
const steppedDays = 3;

/** The rest of a month. Days are counted from 1970, in UTC. */
export interface DaysToCome {
  /** The current day, of which some events have already arrived. */
  readonly today: number;
  /** The first day after the month. */
  readonly to: number;
  /** How much of today is over, from 0 to 1. */
  readonly share: number;
}

/** The volume expected until the end of a month. */
export interface VolumeToCome {
  /** The expected volume of each series, by day from today on; for today only what has not arrived yet. */
  readonly series: readonly DaySeries[];
  /** The same for the total, by day, as a multiple of the average of the last {@link averaged} full days. */
  readonly factors: readonly number[];
  readonly averaged: number;
  /** Nine of ten forecasts end between `low` and `high` times the expected volume. */
  readonly low: number;
  readonly high: number;
}

/**
 * Forecasts the volume of the rest of a month: the total bytes by {@link forecastDays}, and each series by its share of the total in
 * the last full week, or since that share changed. Undefined if too few full days are known.
 */
export function volumeToCome(series: readonly DaySeries[], { today, to, share }: DaysToCome): VolumeToCome | undefined {
  const received = receivedByDay(series);
  // The first day with events may be incomplete.
  const begin = (firstDayOf(series) ?? today) + 1;
  const past = Array.from({ length: Math.max(0, today - begin) }, (_, at) => received(begin + at));
  const forecast = forecastDays(past, (index) => (begin + index) % 7, to - today);
  if (!forecast) return undefined;
  const [whole = 0, ...later] = forecast.byDay;
  // The rest of today's forecast. On a day above the forecast, half of what would arrive in the remaining time.
  const totals = [Math.max(whole - received(today), whole * (1 - share) * 0.5), ...later];
  const recent = past.slice(-averagedDays);
  const average = sumOf(recent) / recent.length;
  return {
    series: series.flatMap((one) => expectedOf(one, today, recent, totals)),
    factors: totals.map((bytes) => (average > 0 ? bytes / average : 0)),
    averaged: recent.length,
    low: forecast.middle > 0 ? forecast.low / forecast.middle : 1,
    high: forecast.middle > 0 ? forecast.high / forecast.middle : 1,
  };
}

/** The expected volume of one series, by its share of the total in the last full days; empty if it had none. */
function expectedOf(
  series: DaySeries,
  today: number,
  recent: readonly number[],
  totals: readonly number[],
): readonly DaySeries[] {
  const parts = recent.map((all, at) => {
    const { events, bytes } = volumeBetween(series, today - recent.length + at, today - recent.length + at + 1);
    return all > 0 ? (bytes || events) / all : 0;
  });
  const days = hasStepped(parts) ? steppedDays : recent.length;
  const received = sumOf(recent.slice(-days));
  const { events, bytes, stored } = volumeBetween(series, today - days, today);
  if (received === 0 || (events === 0 && bytes === 0)) return [];
  const expected = (sum: number): Float64Array => Float64Array.from(totals, (total) => (sum / received) * total);
  return [{ ...series, from: today, events: expected(events), bytes: expected(bytes), stored: expected(stored) }];
}

/** Whether the shares of the last days are all above, or all below, those of the days before. */
function hasStepped(parts: readonly number[]): boolean {
  const [before, after] = [parts.slice(0, -steppedDays), parts.slice(-steppedDays)];
  if (before.length < steppedDays) return false;
  return Math.min(...after) > Math.max(...before) || Math.max(...after) < Math.min(...before);
}

function sumOf(values: readonly number[]): number {
  return values.reduce((sum, value) => sum + value, 0);
}
