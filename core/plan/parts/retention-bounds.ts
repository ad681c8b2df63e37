import { day } from '../../events/time-units.ts';
import { parseDuration } from '../../events/units.ts';

const shortestKeep = 60_000;
/** The longest time that anything is kept, in milliseconds. */
const longestKeep = 36_525 * day;

/** Whether a text is a duration that something may be kept for: `shortest` milliseconds or more, up to 100 years. */
export function isRetention(text: string, shortest = shortestKeep): boolean {
  const keep = parseDuration(text);
  return keep !== undefined && keep >= shortest && keep <= longestKeep;
}
