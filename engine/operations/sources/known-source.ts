import { ValidationError } from 'yup';
import { parseTime } from '#core/conditions/times.ts';
import type { Queryable } from '#store/database.ts';
import { findSource } from '#store/sources/sources.ts';
import { Refusal } from '../refusal.ts';

/** The source of that name; refuses where there is none. */
export async function knownSource(tx: Queryable, name: string) {
  const source = await findSource(tx, name);
  if (!source) throw new Refusal(404, 'There is no such source', `There is no source ${name.slice(0, 100)}.`);
  return source;
}

/** The time (milliseconds) from which a source is to be read, as the text says; 0 for an empty one: the start. */
export function readingTime(from: string): number {
  const time = from === '' ? 0 : parseTime(from, Date.now());
  if (time === undefined || time < 0)
    throw new ValidationError(`${from} is not a time. Examples: -2h, 2026-11-24T08:15.`, from, 'from');
  return time;
}
