const month = new Intl.DateTimeFormat('en-GB', { month: 'long', timeZone: 'UTC' });
const day = new Intl.DateTimeFormat('en-GB', { weekday: 'short', day: 'numeric', month: 'short', timeZone: 'UTC' });

/** The month of a time in milliseconds, `November`. */
export function monthInWords(time: number): string {
  return month.format(time);
}

/** A day such as `2026-11-28` as `Sat 28 Nov`. */
export function dayInWords(text: string): string {
  return day.format(Date.parse(`${text}T00:00:00Z`)).replace(',', '');
}
