/** Whether a time (milliseconds) is on a Saturday or Sunday in UTC. */
export function isWeekend(time: number): boolean {
  const weekday = new Date(time).getUTCDay();
  return weekday === 0 || weekday === 6;
}
