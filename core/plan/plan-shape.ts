import { number, object } from 'yup';
import { laxShape } from './lax-shape.ts';
import { partShapes } from './parts/shapes.ts';

/** A plan. Conditions, durations, shares and the options of steps are texts or objects, which `checkPlan` looks into. */
export const planShape = object({
  plan: number()
    .oneOf([1] as const)
    .required(),
  ...partShapes,
}).noUnknown();

/**
 * A plan that is being written: everything is in its place and has its type, while nothing has to be right or complete. What
 * goes through plans to show them relies on it.
 */
export const draftShape = laxShape(planShape);
