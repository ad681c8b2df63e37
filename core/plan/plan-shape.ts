import { array, mixed, number, object, string } from 'yup';
import { highestLimit, metricName, mostKeys } from '../metrics/limits.ts';
import { measures } from '../metrics/measures/index.ts';
import {
  type CapOverflow,
  emptyValues,
  overflowChoices,
  type PipelineTest,
  rankingMeasures,
  type StepDocument,
} from './document.ts';
import type { SchemaMeta } from './json-schema.ts';

/** Most pipelines, steps in a pipeline, tiers, exclusions in a tier, metrics, rankings, postures, and overrides of one. */
const most = {
  pipelines: 200,
  steps: 100,
  tiers: 50,
  exclusions: 200,
  tests: 100,
  metrics: 100,
  rankings: 20,
  postures: 20,
  overrides: 200,
} as const;

/** Longest name of a field in a ranking. */
const longestKey = 120;

const id = string()
  .matches(/^[a-z0-9][a-z0-9-]{0,62}$/, 'an id is made of small letters, digits and dashes')
  .required();

const aStep: SchemaMeta = { jsonSchema: { $ref: '#/$defs/step' } };

/** A step as it is written; what its options are is up to its kind. */
export const stepShape = mixed<StepDocument>((value): value is StepDocument => isObject(value)).meta(aStep);

const expectation: SchemaMeta = {
  jsonSchema: { type: 'object', additionalProperties: { type: ['string', 'number', 'boolean', 'null'] } },
};

const testShape = object({
  name: string().required().max(120),
  input: string().required().max(20_000),
  arrived: string().test('time', 'a sample arrives at a time such as 2026-01-15T12:00:00Z', (text) =>
    text === undefined ? true : !Number.isNaN(Date.parse(text)),
  ),
  expect: mixed<PipelineTest['expect']>((value): value is PipelineTest['expect'] => isExpectation(value))
    .required()
    .meta(expectation),
}).noUnknown();

const overflow: SchemaMeta = {
  jsonSchema: {
    description: 'What becomes of events past the cap.',
    oneOf: [
      { enum: overflowChoices },
      {
        type: 'object',
        properties: { tier: { type: 'string', description: 'A tier further down.' } },
        required: ['tier'],
        additionalProperties: false,
      },
    ],
  },
};

const capShape = object({
  day: string().required().max(40),
  zone: string().max(64),
  over: mixed<CapOverflow>((value): value is CapOverflow => isOverflow(value))
    .required('say what becomes of what is over: passing, sample, refuse, or tier: and the id of one further down')
    .typeError('over is passing, sample, refuse, or tier: and the id of one further down')
    .meta(overflow),
})
  .noUnknown()
  .default(undefined);

/** The parts of a plan; conditions, durations, shares and the options of steps are texts or objects yet. */
export const planShape = object({
  plan: number().oneOf([1]).required(),
  pipelines: array(
    object({
      id,
      title: string().required().max(200),
      when: string().defined().max(20_000),
      steps: array(stepShape.required()).max(most.steps).default([]),
      tests: array(testShape).max(most.tests),
    }).noUnknown(),
  )
    .max(most.pipelines)
    .default([]),
  tiers: array(
    object({
      id,
      title: string().required().max(200),
      when: string().max(20_000),
      keep: string().required().max(40),
      exclusions: array(
        object({
          id,
          title: string().required().max(200),
          when: string().required().max(20_000),
          keep: string().required().max(40),
          by: string().max(256),
          until: string().max(40),
          reason: string().max(500),
          owner: string().max(64),
        }).noUnknown(),
      ).max(most.exclusions),
      cap: capShape,
    }).noUnknown(),
  )
    .max(most.tiers)
    .default([]),
  metrics: array(
    object({
      id,
      name: string()
        .required()
        .max(255)
        .matches(
          metricName,
          'the name of a metric begins with a letter and goes on with letters, digits, and the signs _ . - /',
        ),
      help: string().max(500),
      when: string().defined().max(20_000),
      measure: string()
        .oneOf([...measures.keys()])
        .required(),
      of: string().max(256),
      by: array(
        object({
          field: string().required().max(256),
          top: number().integer().min(1).max(1_000),
          table: string().max(64),
          column: string().max(256),
        }).noUnknown(),
      ).max(mostKeys),
      unit: string()
        .max(63)
        .matches(/^[\x20-\x7e]*$/, 'a unit is written in ASCII, as UCUM has it: s, By, 1'),
      empty: string().oneOf(emptyValues),
      limit: number().integer().min(1).max(highestLimit),
      keep: string().max(40),
    }).noUnknown(),
  ).max(most.metrics),
  rankings: array(
    object({
      id,
      title: string().required().max(200),
      when: string().defined().max(20_000),
      by: array(string().required().max(longestKey)).min(1).max(mostKeys).required(),
      measure: string().oneOf(rankingMeasures).required(),
      of: string().max(longestKey),
    }).noUnknown(),
  ).max(most.rankings),
  postures: array(
    object({
      id,
      title: string().required().max(200),
      reason: string().max(500),
      fleet: string().max(64),
      overrides: array(
        object({
          exclusion: string().max(130),
          tier: string().max(64),
          keep: string().max(40),
          cap: string().oneOf(['lifted'] as const),
        }).noUnknown(),
      )
        .max(most.overrides)
        .default([]),
    }).noUnknown(),
  ).max(most.postures),
}).noUnknown();

function isExpectation(value: unknown): boolean {
  return isObject(value) && Object.values(value as object).every((part) => part === null || typeof part !== 'object');
}

/** Whether a value says what becomes of events past a cap. */
export function isOverflow(value: unknown): boolean {
  if (typeof value === 'string') return overflowChoices.some((choice) => choice === value);
  return (
    isObject(value) &&
    Object.keys(value as object).join() === 'tier' &&
    typeof Object.values(value as object)[0] === 'string'
  );
}

function isObject(value: unknown): boolean {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}
