import type { AttributeValue } from '#core/events/columns.ts';
import { formatBytes, formatDuration, type Unit } from '#core/events/units.ts';

/** A value of an event for people, with its unit. */
export function inWords(value: AttributeValue, unit: Unit | undefined): string {
  if (typeof value !== 'number') return value === '' ? '(empty)' : String(value);
  if (unit === 'duration') return formatDuration(value);
  return unit === 'size' ? formatBytes(value) : String(value);
}
