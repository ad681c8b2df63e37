import { number, object } from 'yup';
import type { DocumentOf } from '../input/document-of.ts';
import { laxShape } from '../input/lax-shape.ts';
import { partShapes } from './parts/shapes.ts';

/** A plan. Conditions, durations, shares and the options of steps are texts or objects, which `checkPlan` looks into. */
export const planShape = object({
  plan: number<1>().oneOf([1]).required(),
  ...partShapes,
}).noUnknown();

/** A plan as it is written in YAML or JSON. Conditions, templates, durations and shares are texts. */
export type PlanDocument = DocumentOf<typeof planShape>;

/** The plan of an installation that has none yet: everything is kept for a week. */
export const firstPlan: PlanDocument = {
  plan: 1,
  pipelines: [],
  tiers: [{ id: 'rest', title: 'Everything', keep: '7d' }],
};

/**
 * A plan that is being written: everything is in its place and has its type, while nothing has to be right or complete. What
 * goes through plans to show them relies on it.
 */
export const draftShape = laxShape(planShape);
