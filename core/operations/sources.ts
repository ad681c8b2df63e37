import { object, string } from 'yup';
import { operation } from './operation.ts';
import {
  newSource,
  objectAgain,
  readingStart,
  rotation,
  sourceChange,
  sourceName,
  tokenId,
} from './requests/sources.ts';

const named = object({ name: sourceName });

export const sources = operation({
  method: 'GET',
  path: '/api/sources',
  summary: 'All sources with volume and health.',
  failure: 'The sources could not be loaded',
  permission: 'see',
  input: object({}),
});

export const files = operation({
  method: 'GET',
  path: '/api/files',
  summary:
    'Files that patterns (one per line) find on the machine of the engine, newest first, with the last lines of the first; without patterns, the usual logs.',
  failure: 'The files could not be listed',
  permission: 'operate',
  input: object({ patterns: string().max(10_000) }),
});

export const makeSource = operation({
  method: 'POST',
  path: '/api/sources',
  summary: 'Creates a source. Its first token is shown only in this answer.',
  failure: 'The source is not valid',
  permission: 'operate',
  input: newSource,
  status: 201,
});

export const source = operation({
  method: 'GET',
  path: '/api/sources/{name}',
  summary: 'One source: settings, tokens, volume by hour, health, changes.',
  failure: 'The source could not be loaded',
  permission: 'see',
  input: named,
});

export const changeSource = operation({
  method: 'PUT',
  path: '/api/sources/{name}',
  summary: 'Changes a source. Parts that are not given are kept.',
  failure: 'The source is not valid',
  permission: 'operate',
  input: sourceChange.shape({ name: sourceName }),
});

export const removeSource = operation({
  method: 'DELETE',
  path: '/api/sources/{name}',
  summary: 'Removes a source. Its stored events are kept until they expire.',
  failure: 'The source could not be removed',
  permission: 'operate',
  input: named,
});

export const heard = operation({
  method: 'GET',
  path: '/api/sources/{name}/heard',
  summary: 'Emitters of the source that reported in each hour of the last week.',
  failure: 'The emitters by hour could not be loaded',
  permission: 'see',
  input: named,
});

export const addToken = operation({
  method: 'POST',
  path: '/api/sources/{name}/tokens',
  summary: 'Adds or rotates a token. It is shown only in this answer.',
  failure: 'The token could not be created',
  permission: 'operate',
  input: rotation.shape({ name: sourceName }),
  status: 201,
});

export const endToken = operation({
  method: 'DELETE',
  path: '/api/sources/{name}/tokens',
  summary: 'Revokes a token at once.',
  failure: 'The token could not be revoked',
  permission: 'operate',
  input: tokenId.shape({ name: sourceName }),
});

export const upload = operation({
  method: 'POST',
  path: '/api/sources/{name}/upload',
  summary: 'Uploads a sample file. Its name tells CSV from lines.',
  failure: 'The file could not be uploaded',
  permission: 'operate',
  input: object({ name: sourceName, file: string().default('') }),
  takes: 'application/octet-stream',
});

export const rewind = operation({
  method: 'POST',
  path: '/api/sources/{name}/rewind',
  summary: 'Reads files or objects again, live.',
  failure: 'The source could not be rewound',
  permission: 'operate',
  input: readingStart.shape({ name: sourceName }),
});

export const rehearseAgain = operation({
  method: 'POST',
  path: '/api/sources/{name}/rehearsal',
  summary:
    'Runs the draft and the live plan on the files or objects of the source, or on its tape of the last day where it has none. Nothing is stored.',
  failure: 'The source could not be rehearsed',
  permission: 'see',
  input: readingStart.shape({ name: sourceName }),
});

export const tryObjectsAgain = operation({
  method: 'POST',
  path: '/api/sources/{name}/objects',
  summary: 'Retries objects that could not be read.',
  failure: 'The objects could not be retried',
  permission: 'operate',
  input: objectAgain.shape({ name: sourceName }),
});

export const scrubTape = operation({
  method: 'POST',
  path: '/api/sources/{name}/scrub',
  summary: 'Applies the masks of the source to the tape.',
  failure: 'The tape could not be masked',
  permission: 'operate',
  input: named,
});

export const tape = operation({
  method: 'GET',
  path: '/api/tape',
  summary: 'Raw lines of a source from the tape, newest first.',
  failure: 'The tape could not be loaded',
  permission: 'see',
  input: object({ source: sourceName, limit: string().default('200') }),
});
