/** The zone in which times are shown: the browser's, or UTC. */
export type ShownZone = 'local' | 'utc';

/** The key of the choice in `localStorage`; the layout sets it on the root element before the first paint. */
export const zoneKey = 'times';

/** The zone in which this page shows times. */
export function shownZone(): ShownZone {
  return typeof document !== 'undefined' && document.documentElement.dataset.times === 'utc' ? 'utc' : 'local';
}

/** Saves the choice for this browser and reloads the page, because every screen shows times. Other windows follow when they load. */
export function showZone(zone: ShownZone): void {
  localStorage.setItem(zoneKey, zone);
  window.location.reload();
}

/** Shifts a time (milliseconds) so that its local year, hour and so on are those of the shown zone. */
export function shownDate(time: number | Date): Date {
  const date = new Date(time);
  return shownZone() === 'utc' ? new Date(date.getTime() + date.getTimezoneOffset() * 60_000) : date;
}
