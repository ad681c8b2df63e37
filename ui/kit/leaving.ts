import { formatBytes, formatCount, formatDuration } from '#core/events/units.ts';
import type { Leaving } from '../data/answers.ts';
import { dayOf } from './times/times.ts';

/** What goes, in words: `82,000 events (9.1 MB stored) from 21 Nov to 23 Nov`. */
export function whatGoes({ events, stored, from, to }: Leaving): string {
  const [first, last] = [dayOf(from), dayOf(to)];
  const days = first === last ? `of ${first}` : `from ${first} to ${last}`;
  return `${formatCount(events)} events (${formatBytes(stored)} stored) ${days}`;
}

/** Why it goes, in words. */
export function whyItGoes({ title, keptFor, keepsFor }: Leaving): string {
  const kept = formatDuration(keptFor / 1000);
  return keepsFor === 0
    ? `“${title}” is removed`
    : `“${title}” keeps events for ${formatDuration(keepsFor / 1000)} instead of ${kept}`;
}
