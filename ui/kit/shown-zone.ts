/** In which zone times are shown: that of the browser, or UTC. */
export type ShownZone = 'local' | 'utc';

/** Where the choice of a person is kept; the page sets it on its root before anything is drawn. */
export const zoneKey = 'times';

/** In which zone this person wants to see times. */
export function shownZone(): ShownZone {
  return typeof document !== 'undefined' && document.documentElement.dataset.times === 'utc' ? 'utc' : 'local';
}

/** Shows times in a zone from now on, in all windows of this browser; the page is loaded anew, as times stand everywhere. */
export function showZone(zone: ShownZone): void {
  localStorage.setItem(zoneKey, zone);
  window.location.reload();
}

/** A date whose local parts are those of a time (milliseconds) in the zone that is shown. */
export function shownDate(time: number | Date): Date {
  const date = new Date(time);
  return shownZone() === 'utc' ? new Date(date.getTime() + date.getTimezoneOffset() * 60_000) : date;
}
