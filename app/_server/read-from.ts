import { ValidationError } from 'yup';
import { parseTime } from '#core/conditions/times.ts';
import { jsonOf } from './edge.ts';
import { readingStart } from './requests/sources.ts';

/** The time (milliseconds) from which a source is to be read, as a request's `from` says; 0 for an empty one: the start. */
export async function readFrom(request: Request): Promise<number> {
  const { from } = readingStart.validateSync(await jsonOf(request));
  const time = from === '' ? 0 : parseTime(from, Date.now());
  if (time === undefined) throw new ValidationError(`${from} is no time: write -2h, or 2026-11-24T08:15.`);
  return time;
}
