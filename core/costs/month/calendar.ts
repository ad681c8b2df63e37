import { day as dayLength } from '../../events/time-units.ts';

/** How long a day is. Days are counted from 1970-01-01 in UTC, as in the ledger. */
export { dayLength };

/** The day that a time (milliseconds) belongs to. */
export function dayOf(time: number): number {
  return Math.floor(time / dayLength);
}

/** The day of a text such as `2026-10-01`. */
export function dayOfText(text: string): number {
  return dayOf(Date.parse(`${text}T00:00:00Z`));
}

/** A day as `2026-10-01`. */
export function textOfDay(day: number): string {
  return new Date(day * dayLength).toISOString().slice(0, 10);
}

/** The first day of the calendar month of a day, and that of the month after. */
export function monthOf(day: number): { readonly from: number; readonly to: number } {
  const date = new Date(day * dayLength);
  const first = (month: number): number => dayOf(Date.UTC(date.getUTCFullYear(), month, 1));
  return { from: first(date.getUTCMonth()), to: first(date.getUTCMonth() + 1) };
}

const words = new Intl.DateTimeFormat('en-GB', { weekday: 'short', day: 'numeric', month: 'short', timeZone: 'UTC' });

/** A day such as `2026-11-28` as `Sat 28 Nov`. */
export function dayInWords(text: string): string {
  return words.format(dayOfText(text) * dayLength).replace(',', '');
}
