import { array, mixed, object, string } from 'yup';
import type { DocumentOf } from '../../../input/document-of.ts';
import { isObject } from '../../../input/is-object.ts';
import type { SchemaMeta } from '../../../input/json-schema.ts';
import { stepShape } from '../../../steps/step-document.ts';
import { longest } from '../limits.ts';
import { idShape, titleShape } from '../shape-parts.ts';

/** Fields as a test expects them, by name; null for one that must be absent. */
export type ExpectedFields = Readonly<Record<string, string | number | boolean | null>>;

const someFields: SchemaMeta = {
  jsonSchema: { type: 'object', additionalProperties: { type: ['string', 'number', 'boolean', 'null'] } },
};

/** A sample kept as a test of a pipeline. */
const testShape = object({
  name: string().required().max(120),
  /** A record as it arrives. */
  input: string().required().max(longest.sample),
  /** When it arrived, ISO 8601: the clock for times without a year or far from it. Absent: 2026-01-15T12:00:00Z. */
  arrived: string().test('time', 'a sample arrives at a time such as 2026-01-15T12:00:00Z', (text) =>
    text === undefined ? true : !Number.isNaN(Date.parse(text)),
  ),
  /** Fields afterwards; null for one that must be absent. Fields that are not named may be anything. */
  expect: mixed<ExpectedFields>((value): value is ExpectedFields => isExpectation(value))
    .required()
    .meta(someFields),
}).noUnknown();

export type PipelineTest = DocumentOf<typeof testShape>;

const pipelineShape = object({
  id: idShape,
  title: titleShape,
  /** Which events enter. */
  when: string().defined().max(longest.condition),
  steps: array(stepShape.required()).max(100).default([]),
  /** Samples with what must come out; they run at every publish and block it when they fail. */
  tests: array(testShape).max(100),
}).noUnknown();

export type PipelineDocument = DocumentOf<typeof pipelineShape>;

/** Pipelines, in the order in which events run through them. */
export const pipelinesShape = array(pipelineShape).max(200).default([]);

function isExpectation(value: unknown): boolean {
  return isObject(value) && Object.values(value).every((part) => part === null || typeof part !== 'object');
}
