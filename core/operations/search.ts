import { number, object, string } from 'yup';
import { exportFormats } from '../exports/index.ts';
import { operation } from './operation.ts';
import { byNumber, rejectsOf } from './requests/plan.ts';
import {
  byEventId,
  emptySearch,
  exportQuery,
  savedSearch,
  searchBody,
  volumeQuery,
  whyBody,
} from './requests/search.ts';
import { conditionShape } from './requests/source-settings.ts';
import { byName } from './requests/sources.ts';

export const search = operation({
  method: 'POST',
  path: '/api/search',
  summary: 'Searches the stored events. Accept application/x-ndjson to get progress before the result.',
  failure: 'The search is not valid',
  permission: 'see',
  input: searchBody,
});

/** A condition that has to find room in an address. */
const inAddress = conditionShape.max(2_000);

export const arrivals = operation({
  method: 'GET',
  path: '/api/arrivals',
  summary:
    'Live arrivals before any exclusion, as server-sent events: four frames per second and engine, for up to three conditions side by side.',
  failure: 'Arrivals could not be loaded',
  permission: 'see',
  input: object({ condition: inAddress.default(''), condition2: inAddress, condition3: inAddress }),
  gives: ['text/event-stream'],
});

export const whyEmpty = operation({
  method: 'POST',
  path: '/api/search/why',
  summary:
    'Explains an empty search: what became of the events of that time, and when the last matching event happened.',
  failure: 'The reason could not be determined',
  permission: 'see',
  input: emptySearch,
});

export const why = operation({
  method: 'POST',
  path: '/api/why',
  summary:
    'Explains why a figure changed: when the change began and which field values caused it. Accept application/x-ndjson to get earlier answers before the result.',
  failure: 'The change could not be explained',
  permission: 'see',
  input: whyBody,
});

export const exportEvents = operation({
  method: 'GET',
  path: '/api/export',
  summary: 'All results of a search as NDJSON, CSV or Parquet, sorted by source, then time.',
  failure: 'The events could not be exported',
  permission: 'see',
  input: exportQuery,
  gives: [...exportFormats.values()].map(({ type }) => type),
});

export const event = operation({
  method: 'GET',
  path: '/api/events/{id}',
  summary: 'One stored event, its origin and its path.',
  failure: 'The event could not be loaded',
  permission: 'see',
  input: byEventId,
});

export const savedSearches = operation({
  method: 'GET',
  path: '/api/searches',
  summary: 'All saved searches.',
  failure: 'The saved searches could not be loaded',
  permission: 'see',
  input: object({}),
});

export const saveSearch = operation({
  method: 'PUT',
  path: '/api/searches',
  summary: 'Creates or replaces a saved search. saved:name in a condition refers to its condition.',
  failure: 'The search could not be saved',
  permission: 'operate',
  input: savedSearch,
});

export const removeSearch = operation({
  method: 'DELETE',
  path: '/api/searches',
  summary: 'Removes a saved search.',
  failure: 'The saved search could not be removed',
  permission: 'operate',
  input: byName,
});

export const volume = operation({
  method: 'GET',
  path: '/api/volume',
  summary: 'Sums of the volume ledger.',
  failure: 'The request is not valid',
  permission: 'see',
  input: volumeQuery,
});

export const catalogue = operation({
  method: 'GET',
  path: '/api/catalogue',
  summary: 'All fields, with the steps that create them and what uses them.',
  failure: 'The field catalogue could not be loaded',
  permission: 'see',
  input: object({}),
});

export const names = operation({
  method: 'GET',
  path: '/api/names',
  summary: 'Names of sources, tiers, fleets, saved searches, and fields seen in the last week.',
  failure: 'The names could not be loaded',
  permission: 'see',
  input: object({}),
});

export const fields = operation({
  method: 'GET',
  path: '/api/fields',
  summary: 'Fields of recent events with their most frequent values.',
  failure: 'The fields could not be loaded',
  permission: 'see',
  input: object({}),
});

export const rehearseRejects = operation({
  method: 'POST',
  path: '/api/rejects/rehearsal',
  summary: 'Rehearses the draft on rejects.',
  failure: 'The rejects could not be rehearsed',
  permission: 'see',
  input: rejectsOf,
});

export const retryRejects = operation({
  method: 'POST',
  path: '/api/rejects/retry',
  summary: 'Retries rejects with the live plan, each once.',
  failure: 'The rejects could not be retried',
  permission: 'operate',
  input: rejectsOf.shape({ source: string().max(200) }),
});

export const quarantine = operation({
  method: 'GET',
  path: '/api/quarantine',
  summary: 'Deliveries that could not be stored and were set aside.',
  failure: 'The deliveries set aside could not be loaded',
  permission: 'see',
  input: object({}),
});

export const retryQuarantined = operation({
  method: 'POST',
  path: '/api/quarantine/{id}',
  summary: 'Retries a delivery that was set aside.',
  failure: 'The delivery could not be retried',
  permission: 'operate',
  input: byNumber,
});

export const removeQuarantined = operation({
  method: 'DELETE',
  path: '/api/quarantine/{id}',
  summary: 'Deletes a delivery that was set aside.',
  failure: 'The delivery could not be deleted',
  permission: 'operate',
  input: byNumber,
});

export const audit = operation({
  method: 'GET',
  path: '/api/audit',
  summary: 'All changes that someone made, latest first.',
  failure: 'The changes could not be loaded',
  permission: 'see',
  input: object({ most: number().integer().min(1).max(1_000).default(100) }),
});
