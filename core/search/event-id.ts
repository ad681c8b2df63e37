import type { EventRecord } from '../events/batch.ts';
import { encode, hashBytes } from '../events/text-table.ts';

/** What an id looks like: the millisecond and eight hexadecimal digits. */
export const eventIdPattern = /^\d{1,16}-[0-9a-f]{8}$/;

/**
 * The name under which an event can be found again, wherever it is by then: when it happened, and a hash (FNV-1a, 32
 * bits) of what it says. Events that are alike in everything share it.
 */
export function eventId({ time, source, emitter, severity, body, attributes }: EventRecord): string {
  const fields = Object.entries(attributes).sort(([a], [b]) => (a < b ? -1 : 1));
  const bytes = encode(JSON.stringify([time, source, emitter, severity, body, fields]));
  const hash = hashBytes(bytes, 0, bytes.length) >>> 0;
  return `${Math.floor(time)}-${hash.toString(16).padStart(8, '0')}`;
}

/** The millisecond in which the event of an id happened; undefined for what is no id. */
export function timeOfEventId(id: string): number | undefined {
  return eventIdPattern.test(id) ? Number(id.slice(0, id.indexOf('-'))) : undefined;
}
