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
  summary: 'All sources with what they send and how they are.',
  failure: 'The sources could not be read',
  permission: 'see',
  input: object({}),
});

export const makeSource = operation({
  method: 'POST',
  path: '/api/sources',
  summary: 'Makes a source; its first token is told this once.',
  failure: 'The source is not valid',
  permission: 'operate',
  input: newSource,
  status: 201,
});

export const source = operation({
  method: 'GET',
  path: '/api/sources/{name}',
  summary: 'One source: settings, tokens, volume by the hour, health, changes.',
  failure: 'The source could not be read',
  permission: 'see',
  input: named,
});

export const changeSource = operation({
  method: 'PUT',
  path: '/api/sources/{name}',
  summary: 'Changes a source; parts that are not given stay.',
  failure: 'The source is not valid',
  permission: 'operate',
  input: sourceChange.shape({ name: sourceName }),
});

export const removeSource = operation({
  method: 'DELETE',
  path: '/api/sources/{name}',
  summary: 'Removes a source; what is stored of it stays until its tiers let it go.',
  failure: 'The source could not be removed',
  permission: 'operate',
  input: named,
});

export const heard = operation({
  method: 'GET',
  path: '/api/sources/{name}/heard',
  summary: 'How many of its emitters were heard in each hour of a week.',
  failure: 'Who was heard could not be read',
  permission: 'see',
  input: named,
});

export const addToken = operation({
  method: 'POST',
  path: '/api/sources/{name}/tokens',
  summary: 'Adds a token, or rotates one; it is told this once.',
  failure: 'The token could not be made',
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
  summary: 'Takes a sample file; its name tells CSV from lines.',
  failure: 'The file could not be taken',
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
  summary: 'Rehearses the draft on what the source holds; nothing is stored.',
  failure: 'The source could not be rehearsed',
  permission: 'see',
  input: readingStart.shape({ name: sourceName }),
});

export const tryObjectsAgain = operation({
  method: 'POST',
  path: '/api/sources/{name}/objects',
  summary: 'Has objects tried again that could not be read.',
  failure: 'The objects could not be tried again',
  permission: 'operate',
  input: objectAgain.shape({ name: sourceName }),
});

export const scrubTape = operation({
  method: 'POST',
  path: '/api/sources/{name}/scrub',
  summary: 'Masks what is on the tape by the masks of the source.',
  failure: 'The tape could not be masked',
  permission: 'operate',
  input: named,
});

export const tape = operation({
  method: 'GET',
  path: '/api/tape',
  summary: 'Raw lines of a source from the tape, newest first.',
  failure: 'The tape could not be read',
  permission: 'see',
  input: object({ source: sourceName, limit: string().default('200') }),
});
