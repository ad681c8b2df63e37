import { type EventBatch, type EventRecord, eventAt } from '../events/batch.ts';
import type { Unit } from '../events/units.ts';
import { eventId } from './event-id.ts';

/** An event as it is stored: what it says, and where it is. */
export interface StoredEvent extends EventRecord {
  readonly tier: string;
  /** Of its numbers that are no bare numbers, the unit. */
  readonly units: Readonly<Record<string, Unit>>;
}

/** An event that a search gives. */
export interface FoundEvent extends StoredEvent {
  /** Under which it can be asked for (see `event-id.ts`), whatever a search extracted from it. */
  readonly id: string;
}

/** One row of a stored batch as a plain object. Not for hot loops. */
export function storedEventAt(batch: EventBatch, row: number, tier: string): StoredEvent {
  const event = eventAt(batch, row);
  const units: Record<string, Unit> = {};
  for (const [name, { number }] of batch.attributes)
    if (number && number.unit !== 'none' && typeof event.attributes[name] === 'number') units[name] = number.unit;
  return { ...event, tier, units };
}

/** One row of a stored batch with its id. Not for hot loops. */
export function foundEventAt(batch: EventBatch, row: number, tier: string): FoundEvent {
  const event = storedEventAt(batch, row, tier);
  return { ...event, id: eventId(event) };
}
