import { formatBytes, formatCount, formatDuration } from '#core/events/units.ts';
import { dayOf } from '../kit/times.ts';

/** Stored events that go, or are about to go, of a tier that a plan shortens or takes out. Times in milliseconds. */
export interface Leaving {
  readonly tier: string;
  readonly title: string;
  /** How long it keeps events now, and then (0: it is taken out). */
  readonly keptFor: number;
  readonly keepsFor: number;
  readonly events: number;
  /** Bytes as they arrived, and as they are stored. */
  readonly bytes: number;
  readonly stored: number;
  readonly from: number;
  readonly to: number;
}

/** What goes, in words: `82,000 events (9.1 MB) from 21 Nov to 23 Nov`. */
export function whatGoes({ events, bytes, from, to }: Leaving): string {
  const [first, last] = [dayOf(from), dayOf(to)];
  const days = first === last ? `of ${first}` : `from ${first} to ${last}`;
  return `${formatCount(events)} events (${formatBytes(bytes)}) ${days}`;
}

/** Why it goes, in words. */
export function whyItGoes({ title, keptFor, keepsFor }: Leaving): string {
  const kept = formatDuration(keptFor / 1000);
  return keepsFor === 0
    ? `“${title}” is taken out`
    : `“${title}” keeps events for ${formatDuration(keepsFor / 1000)} instead of ${kept}`;
}
