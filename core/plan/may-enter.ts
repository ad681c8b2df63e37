import { compileCondition, conditionOf } from '../conditions/condition.ts';
import type { Mask } from '../conditions/mask.ts';
import { mayHold } from '../conditions/may-hold.ts';
import type { EventBatch } from '../events/batch.ts';
import { encode } from '../events/text-table.ts';
import { readRecords } from '../formats/read.ts';
import { joinMessages } from '../formats/records.ts';

/** The rows of a sample that may enter by a checked condition: of a sample it is not known which fleets its source belongs to. */
export function mayEnter(when: string, sample: EventBatch, now: number): Mask {
  return mayHold(conditionOf(when).node, sample, { now }, (field) => field !== 'fleet');
}

/** Whether events of a source may enter by a condition, whatever else they hold; false for a condition that is wrong. */
export function mayTake(when: string, source: string): boolean {
  const compiled = compileCondition(when);
  if (!compiled.ok) return false;
  const { batch } = readRecords(source, joinMessages([encode('-')]), 'text', { received: 0, backfill: false });
  return mayHold(compiled.condition.node, batch, { now: 0 }, (field) => field === 'source')[0] === 1;
}
