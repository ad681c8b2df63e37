import { array, object, string } from 'yup';
import { mostKeys } from '../../../metrics/limits.ts';
import { longest } from '../limits.ts';
import { idShape, titleShape } from '../shape-parts.ts';

/** By what rankings can be: events, bytes as they arrived, or the sum of a field. */
export const rankingMeasures = ['events', 'bytes', 'sum'] as const;
export type RankingMeasure = (typeof rankingMeasures)[number];

/** The longest name of a field in a ranking. */
const longestField = 120;

/** Rankings. */
export const rankingsShape = array(
  object({
    id: idShape,
    title: titleShape,
    when: string().defined().max(longest.condition),
    by: array(string().required().max(longestField)).min(1).max(mostKeys).required(),
    measure: string().oneOf(rankingMeasures).required(),
    of: string().max(longestField),
  }).noUnknown(),
).max(20);
