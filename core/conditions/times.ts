import { encode } from '../events/text-table.ts';
import { readIso } from '../events/times.ts';
import { parseDuration } from '../events/units.ts';

/**
 * A point in time as written: `now`, `-45m` (before now), `2026-11-24`, `2026-11-24T08:15` (UTC unless it carries an
 * offset). Milliseconds, or undefined when it is none of these.
 */
export function parseTime(text: string, now: number): number | undefined {
  const trimmed = text.trim().toLowerCase();
  if (trimmed === 'now') return now;
  if (/^[+-]/.test(trimmed)) {
    const duration = parseDuration(trimmed.slice(1));
    if (duration === undefined) return undefined;
    return trimmed.startsWith('-') ? now - duration : now + duration;
  }
  const bytes = encode(trimmed.toUpperCase());
  const time = readIso(bytes, 0, bytes.length);
  return Number.isNaN(time) ? undefined : time;
}

/** A stretch of time in milliseconds: from `from`, up to but not including `to`. */
export interface TimeWindow {
  readonly from: number;
  readonly to: number;
}

/** A window such as `-45m..-30m`, `2026-11-24..now` or `-1h` (up to now); undefined when it is none. */
export function parseWindow(text: string, now: number): TimeWindow | undefined {
  const [first, second = 'now', ...rest] = text.split('..');
  const from = parseTime(first ?? '', now);
  const to = parseTime(second.trim() === '' ? 'now' : second, now);
  return rest.length > 0 || from === undefined || to === undefined || from >= to ? undefined : { from, to };
}
