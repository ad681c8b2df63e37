import { type Condition, conditionOf } from '../conditions/condition.ts';
import type { EventBatch } from '../events/batch.ts';
import { day, minute } from '../events/time-units.ts';
import { parseDuration } from '../events/units.ts';
import type { RouteContext } from '../routing/route.ts';

/** A requested surge. */
export interface SurgeChoice {
  readonly condition: string;
  /** The multiple of matching events: 10 for ten times as many, 0 for none. */
  readonly times: number;
  /** Its beginning (UTC), such as `18:00`, and its length, such as `2h`. */
  readonly from: string;
  readonly length: string;
}

/** A compiled surge. */
export interface Surge {
  readonly condition: Condition;
  /** The multiple of matching events. */
  readonly times: number;
  /** Its beginning after midnight (UTC) and its length of at most a day, in milliseconds. */
  readonly from: number;
  readonly length: number;
}

/** How many more times each event arrives, by row: 9 for ten times as many, −1 for none, 0 outside the surge. */
export function addedBySurge(surge: Surge, batch: EventBatch, context: RouteContext): Float32Array {
  const { now, fleets, currentShape } = context;
  const matched = surge.condition.test(batch, {
    now,
    ...(fleets && { fleets }),
    ...(currentShape && { currentShape }),
  });
  return Float32Array.from(batch.received, (at, row) => {
    const since = (((at % day) - surge.from) % day) + day;
    return matched[row] === 1 && since % day < surge.length ? surge.times - 1 : 0;
  });
}

/** Milliseconds after midnight of a text such as `18:00`; undefined if invalid. */
export function timeOfDay(text: string): number | undefined {
  const found = /^([01]?\d|2[0-3]):([0-5]\d)$/.exec(text.trim());
  return found ? (Number(found[1]) * 60 + Number(found[2])) * 60_000 : undefined;
}

/** Whether a text is a duration from a minute to a day. */
export function isSurgeLength(text: string | undefined): boolean {
  const time = parseDuration(text ?? '');
  return time !== undefined && time >= minute && time <= day;
}

/** Compiles a validated surge. */
export function surgeOf({ condition, times, from, length }: SurgeChoice): Surge {
  return { condition: conditionOf(condition), times, from: timeOfDay(from) ?? 0, length: parseDuration(length) ?? 0 };
}
