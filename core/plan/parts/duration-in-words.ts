import { formatDuration, parseDuration } from '../../events/units.ts';

/** A duration of a plan as people read it; as it is written where it is none. */
export function durationInWords(text: string): string {
  const duration = parseDuration(text);
  return duration === undefined ? text : formatDuration(duration / 1000);
}
