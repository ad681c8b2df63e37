import { hour } from '#core/events/time-units.ts';

/** Time before a change that is part of the window (milliseconds). */
const before = 6 * hour;

/** The address that explains a figure of matching events in a written window such as `-7d`, compared with another one if given. */
export function whyIn(condition: string, measure: string, window: string, beside?: string): string {
  const question = { view: 'why', c: condition, measure, w: window, ...(beside && { besideWindow: beside }) };
  return `/explore?${new URLSearchParams(question)}`;
}

/** The address that explains a change since a time (milliseconds). */
export function whySince(condition: string, measure: string, since: number): string {
  return whyIn(condition, measure, `${new Date(since - before).toISOString().slice(0, 16)}..now`);
}
