import { array, mixed, number, object, string } from 'yup';
import type { CapOverflow, PlanDocument } from './document.ts';
import { isOverflow, stepShape } from './plan-shape.ts';

/** A text that may be empty yet. */
const text = (longest: number) => string().strict().defined().max(longest);

/** What is to be a name within the plan. */
const id = text(64);

/**
 * The parts of a plan that is being written: everything is in its place and of its type, while nothing has to be right or
 * there in full. What goes through plans to show them relies on it.
 */
export const draftShape = object({
  plan: number().oneOf([1]).required(),
  pipelines: array(
    object({
      id,
      title: text(200),
      when: text(20_000),
      steps: array(stepShape.required()).max(1_000).required(),
      tests: array(
        object({
          name: text(200),
          input: text(20_000),
          arrived: string().strict().max(64),
          expect: mixed((value): value is object => typeof value === 'object' && value !== null).required(),
        }),
      ).max(200),
    }),
  )
    .max(400)
    .required(),
  tiers: array(
    object({
      id,
      title: text(200),
      when: string().strict().max(20_000),
      keep: text(40),
      exclusions: array(
        object({
          id,
          title: text(200),
          when: text(20_000),
          keep: text(40),
          by: string().strict().max(256),
          until: string().strict().max(40),
          reason: string().strict().max(500),
          owner: string().strict().max(64),
        }),
      ).max(400),
      cap: object({
        day: text(40),
        zone: string().strict().max(64),
        over: mixed<CapOverflow>((over): over is CapOverflow => isOverflow(over)).required(),
      }).default(undefined),
    }),
  )
    .max(100)
    .required(),
  metrics: array(
    object({
      id,
      name: text(255),
      help: string().strict().max(500),
      when: text(20_000),
      measure: text(40),
      of: string().strict().max(256),
      by: array(
        object({
          field: text(256),
          top: number().strict(),
          table: string().strict().max(64),
          column: string().strict().max(256),
        }),
      ).max(20),
      unit: string().strict().max(63),
      empty: string().strict().max(40),
      limit: number().strict(),
      keep: string().strict().max(40),
    }),
  ).max(200),
  rankings: array(
    object({
      id,
      title: text(200),
      when: text(20_000),
      by: array(text(256)).max(20).required(),
      measure: text(40),
      of: string().strict().max(256),
    }),
  ).max(60),
  postures: array(
    object({
      id,
      title: text(200),
      reason: string().strict().max(500),
      fleet: string().strict().max(64),
      overrides: array(
        object({
          exclusion: string().strict().max(130),
          tier: string().strict().max(64),
          keep: string().strict().max(40),
          cap: string().strict().max(40),
        }),
      )
        .max(400)
        .required(),
    }),
  ).max(40),
});

/** A value as a plan that is being written. Throws Yup's `ValidationError` with the path of what is wrong. */
export function draftOf(value: unknown): PlanDocument {
  draftShape.validateSync(value, { abortEarly: false });
  return value as PlanDocument;
}
