const month = new Intl.DateTimeFormat('en-GB', { month: 'long', timeZone: 'UTC' });

/** The month of a time in milliseconds, `November`; with its year where that is not this one. */
export function monthInWords(time: number): string {
  const year = new Date(time).getUTCFullYear();
  return year === new Date().getUTCFullYear() ? month.format(time) : `${month.format(time)} ${year}`;
}
