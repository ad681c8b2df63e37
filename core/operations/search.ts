import { number, object, string } from 'yup';
import { exportFormats } from '../exports/index.ts';
import { operation } from './operation.ts';
import { byNumber, rejectsOf } from './requests/plan.ts';
import { byEventId, emptySearch, exportQuery, savedSearch, searchBody, volumeQuery } from './requests/search.ts';
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

export const arrivals = operation({
  method: 'GET',
  path: '/api/arrivals',
  summary:
    'What comes in, live, before any exclusion: server-sent events, four frames a second of each engine, for up to three conditions side by side.',
  failure: 'Arrivals cannot be shown',
  permission: 'see',
  input: object({ condition: conditionShape.default(''), condition2: conditionShape, condition3: conditionShape }),
  gives: ['text/event-stream'],
});

export const whyEmpty = operation({
  method: 'POST',
  path: '/api/search/why',
  summary: 'Why a search finds nothing: what became of what arrived then, and when the last event happened that fits.',
  failure: 'The reason could not be found',
  permission: 'see',
  input: emptySearch,
});

export const exportEvents = operation({
  method: 'GET',
  path: '/api/export',
  summary:
    'Everything that a search finds, as NDJSON or CSV: one source and stretch after the other, each in order of time.',
  failure: 'The events could not be written out',
  permission: 'see',
  input: exportQuery,
  gives: [...exportFormats.values()].map(({ type }) => type),
});

export const event = operation({
  method: 'GET',
  path: '/api/events/{id}',
  summary: 'One stored event, where it came from and where it went.',
  failure: 'The event could not be read',
  permission: 'see',
  input: byEventId,
});

export const savedSearches = operation({
  method: 'GET',
  path: '/api/searches',
  summary: 'All saved searches.',
  failure: 'The saved searches could not be read',
  permission: 'see',
  input: object({}),
});

export const saveSearch = operation({
  method: 'PUT',
  path: '/api/searches',
  summary: 'Saves a search, or changes the one of that name; saved:name in a condition stands for its condition.',
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
  failure: 'The question is not valid',
  permission: 'see',
  input: volumeQuery,
});

export const catalogue = operation({
  method: 'GET',
  path: '/api/catalogue',
  summary: 'All fields, with the steps that make them and what reads them.',
  failure: 'The catalogue could not be read',
  permission: 'see',
  input: object({}),
});

export const names = operation({
  method: 'GET',
  path: '/api/names',
  summary: 'What sources, tiers, fleets, saved searches and the fields of the last week are called.',
  failure: 'The names could not be read',
  permission: 'see',
  input: object({}),
});

export const fields = operation({
  method: 'GET',
  path: '/api/fields',
  summary: 'The fields of recent events with their commonest values.',
  failure: 'The fields could not be read',
  permission: 'see',
  input: object({}),
});

export const rehearseRejects = operation({
  method: 'POST',
  path: '/api/rejects/rehearsal',
  summary: 'Rehearses the draft on rejects alone.',
  failure: 'The rejects could not be rehearsed',
  permission: 'see',
  input: rejectsOf,
});

export const retryRejects = operation({
  method: 'POST',
  path: '/api/rejects/retry',
  summary: 'Sends rejects through the live plan again, each once.',
  failure: 'The rejects could not be tried again',
  permission: 'operate',
  input: rejectsOf.shape({ source: string().max(200) }),
});

export const quarantine = operation({
  method: 'GET',
  path: '/api/quarantine',
  summary: 'Deliveries that could not be stored and were set aside.',
  failure: 'What was set aside could not be read',
  permission: 'see',
  input: object({}),
});

export const retryQuarantined = operation({
  method: 'POST',
  path: '/api/quarantine/{id}',
  summary: 'Tries to store a delivery that was set aside.',
  failure: 'The delivery could not be tried again',
  permission: 'operate',
  input: byNumber,
});

export const removeQuarantined = operation({
  method: 'DELETE',
  path: '/api/quarantine/{id}',
  summary: 'Lets a delivery go that was set aside.',
  failure: 'The delivery could not be let go',
  permission: 'operate',
  input: byNumber,
});

export const audit = operation({
  method: 'GET',
  path: '/api/audit',
  summary: 'Every change that someone made, the latest first.',
  failure: 'The changes could not be read',
  permission: 'see',
  input: object({ most: number().integer().min(1).max(1_000).default(100) }),
});
