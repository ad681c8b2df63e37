import { number, object, string } from 'yup';
import { isSurgeLength, timeOfDay } from '../../rehearsal/surge.ts';
import { conditionShape } from './source-settings.ts';

/** A surge as it is requested, in a form or of the API. */
export const surgeShape = object({
  condition: conditionShape.required('Enter a condition.'),
  times: number().typeError('A number from 0 to 1,000.').min(0).max(1_000).required(),
  from: string()
    .required()
    .test('from', 'A time of day (UTC), such as 18:00.', (text) => timeOfDay(text ?? '') !== undefined),
  length: string().required().test('length', 'A duration of up to a day, such as 2h.', isSurgeLength),
});
