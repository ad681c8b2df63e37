import { array, string } from 'yup';
import type { TalkerLabels } from './talker-labels.ts';

/** Most who are left out of a ranking. */
const mostLeftOut = 50;

const shape = array(array(string().strict().defined().nullable()).strict().required())
  .strict()
  .max(mostLeftOut)
  .required();

/** Those who are left out of a ranking, from JSON: a list of lists of values, null for events without a field; undefined for anything else. */
export function parseLeftOut(text: string): readonly TalkerLabels[] | undefined {
  try {
    return shape.validateSync(JSON.parse(text));
  } catch {
    return undefined;
  }
}
