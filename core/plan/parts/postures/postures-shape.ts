import { array, object, string } from 'yup';
import type { DocumentOf } from '../../../input/document-of.ts';
import { longest } from '../limits.ts';
import { idShape, titleShape } from '../shape-parts.ts';

/** One thing that is different while a posture is on: what exclusions keep, how long a tier keeps, or that its cap is lifted. */
const overrideShape = object({
  /** `tier/exclusion`, `tier/*` for all of a tier, or `*` for all that there are; `keep` is then as in an exclusion. */
  exclusion: string().max(130),
  /** A tier; `keep` is then for how long it keeps at least. */
  tier: string().max(longest.name),
  keep: string().max(longest.amount),
  /** Of a tier: it keeps everything, whatever its cap. */
  cap: string().oneOf(['lifted'] as const),
}).noUnknown();

export type PostureOverride = DocumentOf<typeof overrideShape>;

/** A named set of overrides, switched on for a while by a person or a request. */
const postureShape = object({
  id: idShape,
  title: titleShape,
  /** What it is for. */
  reason: string().max(longest.reason),
  /** Only for sources of this fleet; absent: for all. Tiers keep for longer whatever the fleet. */
  fleet: string().max(longest.name),
  overrides: array(overrideShape).max(200).default([]),
}).noUnknown();

export type PostureDocument = DocumentOf<typeof postureShape>;

/** Named sets of overrides that can be switched on for a while. */
export const posturesShape = array(postureShape).max(20);
