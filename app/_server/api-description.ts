import { type AnyObject, type ObjectSchema, object, type Schema, string } from 'yup';
import { type JsonSchema, jsonSchemaFields, jsonSchemaOf } from '#core/plan/json-schema.ts';
import { lookupsShape } from '#core/steps/lookups.ts';
import { draftBody, planText, publishBody, rejectsOf, table } from './requests/plan.ts';
import { emittersQuery, searchBody, volumeQuery } from './requests/search.ts';
import {
  byName,
  emitterPlans,
  fleet,
  maintenance,
  maintenanceId,
  newSource,
  objectAgain,
  readingStart,
  rotation,
  sourceChange,
  tokenId,
} from './requests/sources.ts';

/** One thing that can be asked of the API. */
interface Operation {
  readonly summary: string;
  readonly query?: ObjectSchema<AnyObject>;
  readonly body?: Schema;
  /** Type of a body that is no JSON. */
  readonly takes?: string;
  /** Type of an answer that is no JSON. */
  readonly gives?: string;
  /** Status of a good answer: 200 where it is not given. */
  readonly status?: number;
}

type Method = 'get' | 'post' | 'put' | 'delete';

const ofSource = object({ source: string() });
const ndjson = 'application/x-ndjson';

const operations: Readonly<Record<string, Readonly<Partial<Record<Method, Operation>>>>> = {
  '/api/overview': { get: { summary: 'Where everything flows, a day, and what needs someone.' } },
  '/api/course': { get: { summary: 'The live figures under the names of the stages.' } },
  '/api/sources': {
    get: { summary: 'All sources with what they send and how they are.' },
    post: { summary: 'Makes a source; its first token is told this once.', body: newSource, status: 201 },
  },
  '/api/sources/{name}': {
    get: { summary: 'One source: settings, tokens, volume by the hour, health, changes.' },
    put: { summary: 'Changes a source; parts that are not given stay.', body: sourceChange },
    delete: { summary: 'Removes a source; what is stored of it stays until its tiers let it go.' },
  },
  '/api/sources/{name}/heard': { get: { summary: 'How many of its emitters were heard in each hour of a week.' } },
  '/api/sources/{name}/tokens': {
    post: { summary: 'Adds a token, or rotates one; it is told this once.', body: rotation, status: 201 },
    delete: { summary: 'Revokes a token at once.', body: tokenId },
  },
  '/api/sources/{name}/upload': {
    post: {
      summary: 'Takes a sample file; its name tells CSV from lines.',
      query: object({ file: string() }),
      takes: 'application/octet-stream',
    },
  },
  '/api/sources/{name}/rewind': { post: { summary: 'Reads files or objects again, live.', body: readingStart } },
  '/api/sources/{name}/rehearsal': {
    post: { summary: 'Rehearses the draft on what the source holds; nothing is stored.', body: readingStart },
  },
  '/api/sources/{name}/objects': {
    post: { summary: 'Has objects tried again that could not be read.', body: objectAgain },
  },
  '/api/sources/{name}/scrub': { post: { summary: 'Masks what is on the tape by the masks of the source.' } },
  '/api/emitters': {
    get: { summary: 'What sources and emitters sent in a window, the largest first.', query: emittersQuery },
    put: { summary: 'Retires an emitter, or says when it is expected.', body: emitterPlans },
  },
  '/api/health': { get: { summary: 'The health of all sources and emitters.', query: ofSource } },
  '/api/drift': { get: { summary: 'What changed in what sources send, over a week.', query: ofSource } },
  '/api/fleets': {
    get: { summary: 'All fleets.' },
    put: { summary: 'Adds a fleet, or changes the one of that name.', body: fleet },
    delete: { summary: 'Removes a fleet; its sources stay.', body: byName },
  },
  '/api/maintenance': {
    get: { summary: 'All maintenance windows.' },
    post: { summary: 'Announces an absence, once or again and again.', body: maintenance, status: 201 },
    delete: { summary: 'Takes a window out.', body: maintenanceId },
  },
  '/api/tape': {
    get: {
      summary: 'Raw lines of a source from the tape, newest first.',
      query: object({ source: string().required(), limit: string() }),
    },
  },
  '/api/plan': { get: { summary: 'The live plan and its revision.' } },
  '/api/plan/schema.json': {
    get: { summary: 'The JSON Schema of a plan, for editors.', gives: 'application/schema+json' },
  },
  '/api/plan/text': {
    get: {
      summary: 'The draft, or the live plan, as YAML; or one pipeline of it.',
      query: object({ pipeline: string() }),
      gives: 'application/yaml',
    },
    put: { summary: 'Takes a plan or one pipeline from YAML into the draft.', body: planText },
  },
  '/api/plan/draft': {
    get: { summary: 'The draft with its changes and problems; null where there is none.' },
    put: { summary: 'Stores the draft.', body: draftBody },
    delete: { summary: 'Throws the draft away; it can be taken up again for a day.' },
  },
  '/api/plan/draft/rehearsal': { post: { summary: 'Rehearses the draft on the tape of the last day.' } },
  '/api/plan/draft/publish': { post: { summary: 'Publishes the draft as the next revision.', body: publishBody } },
  '/api/plan/discarded': { get: { summary: 'The drafts that were thrown away within a day.' } },
  '/api/plan/discarded/{id}': { post: { summary: 'Makes a discarded draft the draft again.' } },
  '/api/plan/graces': { get: { summary: 'Stored events that are about to go, as a revision shortened their tier.' } },
  '/api/plan/graces/{id}': { post: { summary: 'Keeps those events for as long as they were meant to be kept.' } },
  '/api/plan/revisions': { get: { summary: 'The revisions, newest first, with what they changed and brought.' } },
  '/api/plan/revisions/{number}/restore': { post: { summary: 'Makes an old revision the draft.' } },
  '/api/routing': { get: { summary: 'What each tier received in the last day, and what it holds.' } },
  '/api/steps': { get: { summary: 'What each step of the live plan has done.' } },
  '/api/catalogue': { get: { summary: 'All fields, with the steps that make them and what reads them.' } },
  '/api/fields': { get: { summary: 'The fields of recent events with their commonest values.' } },
  '/api/rejects/rehearsal': { post: { summary: 'Rehearses the draft on rejects alone.', body: rejectsOf } },
  '/api/rejects/retry': { post: { summary: 'Sends rejects through the live plan again, each once.', body: rejectsOf } },
  '/api/quarantine': { get: { summary: 'Deliveries that could not be stored and were set aside.' } },
  '/api/quarantine/{id}': {
    post: { summary: 'Tries to store a delivery that was set aside.' },
    delete: { summary: 'Lets a delivery go that was set aside.' },
  },
  '/api/tables': {
    get: { summary: 'All tables that steps look values up in.' },
    put: { summary: 'Adds a table, or puts it in the place of the one of that name.', body: table },
    delete: { summary: 'Removes a table.', body: byName },
  },
  '/api/lookups': { post: { summary: 'Looks keys up in tables, and addresses among the places.', body: lookupsShape } },
  '/api/search': {
    post: {
      summary: `Searches the stored events. Accept ${ndjson} to get progress before the result.`,
      body: searchBody,
    },
  },
  '/api/volume': { get: { summary: 'Sums of the volume ledger.', query: volumeQuery } },
  '/api/openapi.json': { get: { summary: 'This description.' } },
};

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
  return {
    openapi: '3.1.0',
    info: { title: 'Restless Otter', version: '1', description: 'Everything that the screens do can be done with it.' },
    paths: Object.fromEntries(
      Object.entries(operations).map(([path, methods]) => [
        path,
        Object.fromEntries(
          Object.entries(methods).map(([method, operation]) => [method, describeOperation(path, operation)]),
        ),
      ]),
    ),
    components: { schemas: { Problem: problem } },
  };
}

function describeOperation(path: string, operation: Operation): JsonSchema {
  const { summary, query, body, takes, gives = 'application/json', status = 200 } = operation;
  const parameters = [...pathParameters(path), ...queryParameters(query)];
  const taken = body ? { 'application/json': { schema: jsonSchemaOf(body) } } : takes && { [takes]: {} };
  return {
    summary,
    ...(parameters.length > 0 && { parameters }),
    ...(taken && { requestBody: { required: true, content: taken } }),
    responses: {
      [status]: { description: 'It is done.', content: { [gives]: {} } },
      default: {
        description: 'It is not done.',
        content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
      },
    },
  };
}

function pathParameters(path: string): readonly JsonSchema[] {
  return [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => ({
    name,
    in: 'path',
    required: true,
    schema: { type: name === 'number' || name === 'id' ? 'integer' : 'string' },
  }));
}

function queryParameters(query: ObjectSchema<AnyObject> | undefined): readonly JsonSchema[] {
  return query ? jsonSchemaFields(query).map((field) => ({ ...field, in: 'query' })) : [];
}
