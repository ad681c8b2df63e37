import { type EventBatch, type EventRecord, eventAt } from '../events/batch.ts';
import type { Unit } from '../events/units.ts';

/** An event as it is stored: what it says, and where it lies. */
export interface FoundEvent extends EventRecord {
  readonly tier: string;
  /** Of its numbers that are no bare numbers, the unit. */
  readonly units: Readonly<Record<string, Unit>>;
}

/** One row of a stored batch as a plain object. Not for hot loops. */
export function foundEventAt(batch: EventBatch, row: number, tier: string): FoundEvent {
  const event = eventAt(batch, row);
  const units: Record<string, Unit> = {};
  for (const [name, { number }] of batch.attributes)
    if (number && number.unit !== 'none' && typeof event.attributes[name] === 'number') units[name] = number.unit;
  return { ...event, tier, units };
}
