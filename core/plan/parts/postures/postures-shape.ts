import { array, object, string } from 'yup';
import { longest } from '../limits.ts';
import { idShape, titleShape } from '../shape-parts.ts';

/** One thing that is different while a posture is on: what exclusions keep, how long a tier keeps, or that its cap is lifted. */
const overrideShape = object({
  exclusion: string().max(130),
  tier: string().max(longest.name),
  keep: string().max(longest.amount),
  cap: string().oneOf(['lifted'] as const),
}).noUnknown();

/** Postures. */
export const posturesShape = array(
  object({
    id: idShape,
    title: titleShape,
    reason: string().max(longest.reason),
    fleet: string().max(longest.name),
    overrides: array(overrideShape).max(200).default([]),
  }).noUnknown(),
).max(20);
