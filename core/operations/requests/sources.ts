import { Cron } from 'croner';
import { boolean, number, object, string } from 'yup';
import { parseDuration } from '../../events/units.ts';
import { conditionShape, labelsShape, settingsShape, sourceKinds } from './source-settings.ts';

/** A name for a source, a fleet or a table. */
export const nameShape = string()
  .required('Enter a name.')
  .matches(/^[a-z0-9][a-z0-9-]{0,62}$/, 'A name has lower-case letters, digits and dashes, such as ticket-printer.');

/** A time in milliseconds, within what a calendar knows. */
export const aTime = number().min(0).max(8.64e15);

/** The name of a source that should be there. */
export const sourceName = string().required().max(5_000);

/** A source to be made. */
export const newSource = object({
  name: nameShape,
  kind: string().oneOf(sourceKinds).required(),
  format: string().oneOf(['auto', 'json', 'rfc5424', 'rfc3164', 'text']).default('auto'),
  owner: string().max(64).default(''),
  labels: labelsShape.default({}),
  accepts: conditionShape.default(''),
  settings: settingsShape.default({}),
});

/** What a source is to be set to; parts that are not given stay as they are. */
export const sourceChange = object({
  owner: string().max(64),
  labels: labelsShape.default(undefined),
  accepts: conditionShape,
  settings: settingsShape.default(undefined),
});

/** A new token, alone or in the place of one. */
export const rotation = object({
  /** The number of the token that the new one takes the place of. */
  replaces: number().integer().min(1),
  /** For how long both are valid, in milliseconds. */
  overlap: number()
    .min(0)
    .max(90 * 86_400_000)
    .default(0),
});

/** A token by its number. */
export const tokenId = object({ id: number().integer().min(1).required() });

/** An object that is to be tried again, by its identity; absent: all that could not be read. */
export const objectAgain = object({ identity: string().matches(/^[0-9a-f]{64}$/, 'this does not identify an object') });

/** From when on a source is read again: a time such as `-2h`; empty for the start. */
export const readingStart = object({ from: string().defined().default('') });

/** What people say of an emitter; `expectedBack` in milliseconds. */
export const emitterPlans = object({
  source: string().required(),
  emitter: string().required(),
  retired: boolean().default(false),
  expectedBack: aTime.nullable().default(null),
});

/** A fleet: the sources whose labels meet a condition. */
export const fleet = object({
  name: nameShape,
  condition: conditionShape.required('Enter a condition over labels, such as site = piers.'),
});

/** Something by its name. */
export const byName = object({ name: string().required() });

/** An absence, once or again and again; `from` in milliseconds. */
export const maintenance = object({
  title: string().trim().required('Enter a reason.').max(200),
  scope: conditionShape.required('Enter which sources or emitters are away, such as site = pier-4.'),
  from: aTime.required(),
  /** How long it lasts: `2h`. */
  length: string()
    .required('Enter a duration, such as 2h.')
    .max(40)
    .test('length', 'A duration of a minute or more, such as 2h.', isLongEnough),
  /** Cron expression for windows that come again; empty for a single one. */
  schedule: string()
    .default('')
    .max(100)
    .test('schedule', 'a schedule is a cron expression of five parts, such as 0 2 * * 0', isSchedule),
});

/** A maintenance window by its number. */
export const maintenanceId = object({ id: number().integer().min(1).max(Number.MAX_SAFE_INTEGER).required() });

/** Shortest window, in milliseconds. */
const shortestWindow = 60_000;

function isLongEnough(text: string | undefined): boolean {
  return !text || (parseDuration(text) ?? 0) >= shortestWindow;
}

function isSchedule(text: string | undefined): boolean {
  if (!text) return true;
  try {
    new Cron(text, { timezone: 'UTC' });
    return true;
  } catch {
    return false;
  }
}
