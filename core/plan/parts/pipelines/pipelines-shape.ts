import { array, mixed, object, string } from 'yup';
import type { SchemaMeta } from '../../json-schema.ts';
import { longest } from '../limits.ts';
import { idShape, isObject, titleShape } from '../shape-parts.ts';

/** A step: its kind as a key with the kind's options, and beside it `when` and `on-failure`. */
export type StepDocument = Readonly<Record<string, unknown>>;

/** Fields as a test expects them, by name; null for one that must be absent. */
export type ExpectedFields = Readonly<Record<string, string | number | boolean | null>>;

const aStep: SchemaMeta = { jsonSchema: { $ref: '#/$defs/step' } };

/** A step as it is written; its kind says what its options may be. */
export const stepShape = mixed<StepDocument>((value): value is StepDocument => isObject(value)).meta(aStep);

const someFields: SchemaMeta = {
  jsonSchema: { type: 'object', additionalProperties: { type: ['string', 'number', 'boolean', 'null'] } },
};

/** A sample kept as a test of a pipeline. */
const testShape = object({
  name: string().required().max(120),
  input: string().required().max(longest.sample),
  arrived: string().test('time', 'a sample arrives at a time such as 2026-01-15T12:00:00Z', (text) =>
    text === undefined ? true : !Number.isNaN(Date.parse(text)),
  ),
  expect: mixed<ExpectedFields>((value): value is ExpectedFields => isExpectation(value))
    .required()
    .meta(someFields),
}).noUnknown();

/** Pipelines, in the order in which events run through them. */
export const pipelinesShape = array(
  object({
    id: idShape,
    title: titleShape,
    when: string().defined().max(longest.condition),
    steps: array(stepShape.required()).max(100).default([]),
    tests: array(testShape).max(100),
  }).noUnknown(),
)
  .max(200)
  .default([]);

function isExpectation(value: unknown): boolean {
  return isObject(value) && Object.values(value).every((part) => part === null || typeof part !== 'object');
}
