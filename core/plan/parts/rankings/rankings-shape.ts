import { array, object, string } from 'yup';
import type { DocumentOf } from '../../../input/document-of.ts';
import { mostKeys } from '../../../metrics/limits.ts';
import { longest } from '../limits.ts';
import { idShape, titleShape } from '../shape-parts.ts';

/** By what rankings can be: events, bytes as they arrived, or the sum of a field. */
export const rankingMeasures = ['events', 'bytes', 'sum'] as const;

/** The longest name of a field in a ranking. */
const longestField = 120;

/** A ranking of who or what contributes most. */
const rankingShape = object({
  id: idShape,
  title: titleShape,
  /** Of which events; empty: all. */
  when: string().defined().max(longest.condition),
  /** By up to four fields: their values together are who contributes. */
  by: array(string().required().max(longestField)).min(1).max(mostKeys).required(),
  /** What they are ranked by: events, bytes as they arrived, or the sum of a field. */
  measure: string().oneOf(rankingMeasures).required(),
  /** The field that is summed; absent where none is. */
  of: string().max(longestField),
}).noUnknown();

export type RankingDocument = DocumentOf<typeof rankingShape>;

/** Rankings of who or what contributes most. */
export const rankingsShape = array(rankingShape).max(20);
