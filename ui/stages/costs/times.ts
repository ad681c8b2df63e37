const month = new Intl.DateTimeFormat('en-GB', { month: 'long', timeZone: 'UTC' });

/** The month of a time in milliseconds, `November`. */
export function monthInWords(time: number): string {
  return month.format(time);
}
