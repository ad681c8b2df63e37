import type { AnyObject, ObjectSchema } from 'yup';
import { type JsonSchema, jsonSchemaFields, jsonSchemaOf } from '#core/input/json-schema.ts';
import { operations } from '#core/operations/index.ts';
import { isAskedInQuery, type Operation, pathParts } from '#core/operations/operation.ts';
import answerSchemas from './answer-schemas.json' with { type: 'json' };

/** What is answered without asking an engine. */
const fixed: Readonly<Record<string, { readonly summary: string; readonly gives: string }>> = {
  '/api/plan/schema.json': {
    summary: 'The JSON Schema of a plan, for editors.',
    gives: 'application/schema+json',
  },
  '/api/openapi.json': { summary: 'This description.', gives: 'application/json' },
};

const { Answers: answers, ...described } = answerSchemas;

/** What an operation answers; undefined where nobody has said it. */
function answerOf(name: string): JsonSchema | undefined {
  return Object.entries<JsonSchema>(answers.properties).find(([known]) => known === name)?.[1];
}

const problem: JsonSchema = {
  type: 'object',
  description: 'What went wrong, what was kept and what to do (RFC 9457).',
  properties: {
    title: { type: 'string' },
    status: { type: 'integer' },
    detail: { type: 'string' },
    problems: { type: 'array', items: { type: 'object' } },
  },
};

/** The OpenAPI 3.1 description of the API. */
export function apiDescription(): JsonSchema {
  const paths: Record<string, Record<string, JsonSchema>> = {};
  for (const [name, operation] of Object.entries<Operation>(operations)) {
    const methods = paths[operation.path] ?? {};
    const described = describeOperation(operation, answerOf(name));
    paths[operation.path] = { ...methods, [operation.method.toLowerCase()]: described };
  }
  for (const [path, { summary, gives }] of Object.entries(fixed))
    paths[path] = { get: { summary, responses: { 200: { description: 'It is done.', content: { [gives]: {} } } } } };
  return {
    openapi: '3.1.0',
    info: { title: 'Restless Otter', version: '1', description: 'Everything that the screens do is available here.' },
    paths,
    components: { schemas: { ...described, Problem: problem } },
  };
}

function describeOperation(operation: Operation, answer: JsonSchema | undefined): JsonSchema {
  const { summary, input, takes, gives = ['application/json'], status = 200, permission } = operation;
  const inPath = pathParts(operation);
  const rest = input.omit([...inPath]) as ObjectSchema<AnyObject>;
  const hasRest = Object.keys(rest.fields).length > 0;
  const isInQuery = isAskedInQuery(operation);
  const fields = jsonSchemaFields(input);
  const parameters = [
    ...fields.filter(({ name }) => inPath.includes(name)).map((field) => ({ ...field, in: 'path', required: true })),
    ...(isInQuery ? fields.filter(({ name }) => !inPath.includes(name)) : []).map((field) => ({
      ...field,
      in: 'query',
    })),
  ];
  const requestTypes =
    !isInQuery && hasRest ? { 'application/json': { schema: jsonSchemaOf(rest) } } : takes && { [takes]: {} };
  return {
    summary,
    'x-permission': permission,
    ...(parameters.length > 0 && { parameters }),
    ...(requestTypes && { requestBody: { required: true, content: requestTypes } }),
    responses: {
      [status]: {
        description: 'It is done.',
        content: Object.fromEntries(gives.map((type) => [type, answer ? { schema: answer } : {}])),
      },
      default: {
        description: 'It is not done.',
        content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
      },
    },
  };
}
