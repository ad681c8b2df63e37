import { hour } from '#core/events/time-units.ts';

/** How much of what was before a change is in the window that is asked about (milliseconds). */
const before = 6 * hour;

/** The address that explains how a figure of some events changed at a time (milliseconds). */
export function whyAt(condition: string, measure: string, since: number): string {
  const from = new Date(since - before).toISOString().slice(0, 16);
  return `/explore?${new URLSearchParams({ view: 'why', c: condition, measure, w: `${from}..now` })}`;
}
