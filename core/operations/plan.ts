import { array, boolean, number, object, string } from 'yup';
import { isRehearsalSpan } from '../rehearsal/rehearsal-span.ts';
import { lookupsShape } from '../steps/lookups.ts';
import { operation } from './operation.ts';
import { byNumber, draftBody, planText as planTextShape, publishBody, rebaseBody, table } from './requests/plan.ts';
import { conditionShape } from './requests/source-settings.ts';
import { byName } from './requests/sources.ts';
import { surgeShape } from './requests/surge.ts';

export const plan = operation({
  method: 'GET',
  path: '/api/plan',
  summary: 'The live plan and its revision.',
  failure: 'The plan could not be loaded',
  permission: 'see',
  input: object({}),
});

export const shadows = operation({
  method: 'GET',
  path: '/api/routing/shadows',
  summary:
    'For each tier, how much of what it would match is taken by tiers above it, by the tape of the last day; for the live plan and the draft.',
  failure: 'The overlap of tiers could not be computed',
  permission: 'see',
  input: object({ version: number().integer().min(0) }),
});

export const caps = operation({
  method: 'GET',
  path: '/api/routing/caps',
  summary:
    'Tiers with caps: kept today, overflow by source and shape, and when the cap will be met; and a suggested cap for each tier.',
  failure: 'The caps could not be loaded',
  permission: 'see',
  input: object({}),
});

export const planText = operation({
  method: 'GET',
  path: '/api/plan/text',
  summary: 'The draft, or the live plan, as YAML; or one pipeline of it.',
  failure: 'The plan could not be loaded',
  permission: 'see',
  input: object({ pipeline: string() }),
  gives: ['application/yaml'],
});

export const takePlanText = operation({
  method: 'PUT',
  path: '/api/plan/text',
  summary: 'Reads a plan or one pipeline from YAML into the draft.',
  failure: 'The text could not be read',
  permission: 'design',
  input: planTextShape,
});

export const draft = operation({
  method: 'GET',
  path: '/api/plan/draft',
  summary: 'The draft with its changes and problems; null if there is none.',
  failure: 'The draft could not be loaded',
  permission: 'see',
  input: object({}),
});

export const saveDraft = operation({
  method: 'PUT',
  path: '/api/plan/draft',
  summary: 'Stores the draft. `version` is the version of the draft that was changed (0: there was none).',
  failure: 'The draft could not be stored',
  permission: 'design',
  input: draftBody,
});

export const discardDraft = operation({
  method: 'DELETE',
  path: '/api/plan/draft',
  summary: 'Discards the draft. It can be restored for 24 hours.',
  failure: 'The draft could not be discarded',
  permission: 'design',
  input: object({}),
});

const spanFault = 'A duration with its unit, from 1h to 14d.';

export const rehearseDraft = operation({
  method: 'POST',
  path: '/api/plan/draft/rehearsal',
  summary:
    'Rehearses the draft on the tape of the last 24 hours or less; `span` may name up to 14 days, of which the volumes are then. `surge` adds events on top of either plan.',
  failure: 'The draft could not be rehearsed',
  permission: 'design',
  input: object({
    span: string().max(40).default('24h').test('span', spanFault, isRehearsalSpan),
    surge: surgeShape.default(undefined).optional(),
  }),
});

export const rebaseDraft = operation({
  method: 'POST',
  path: '/api/plan/draft/rebase',
  summary: 'Updates the draft to the live revision. `choices` resolves conflicts.',
  failure: 'The draft could not be updated to the live revision',
  permission: 'design',
  input: rebaseBody,
});

export const publishDraft = operation({
  method: 'POST',
  path: '/api/plan/draft/publish',
  summary: 'Publishes the draft as the next revision.',
  failure: 'The draft could not be published',
  permission: 'publish',
  input: publishBody,
});

export const discardedDrafts = operation({
  method: 'GET',
  path: '/api/plan/discarded',
  summary: 'Drafts discarded in the last 24 hours.',
  failure: 'The discarded drafts could not be loaded',
  permission: 'see',
  input: object({}),
});

export const takeUpDraft = operation({
  method: 'POST',
  path: '/api/plan/discarded/{id}',
  summary: 'Restores a discarded draft.',
  failure: 'The draft could not be restored',
  permission: 'design',
  input: byNumber,
});

export const graces = operation({
  method: 'GET',
  path: '/api/plan/graces',
  summary: 'Stored events about to be deleted because a revision shortened the retention of their tier.',
  failure: 'The events about to be deleted could not be loaded',
  permission: 'see',
  input: object({}),
});

export const keepGraced = operation({
  method: 'POST',
  path: '/api/plan/graces/{id}',
  summary: 'Keeps those events for their former retention.',
  failure: 'The events could not be kept',
  permission: 'publish',
  input: byNumber,
});

const revisionNumber = object({ number: number().integer().min(1).max(Number.MAX_SAFE_INTEGER).required() });

export const revisions = operation({
  method: 'GET',
  path: '/api/plan/revisions',
  summary: 'Revisions, newest first, with their changes and effects.',
  failure: 'The revisions could not be loaded',
  permission: 'see',
  input: object({}),
});

export const revisionTimeline = operation({
  method: 'GET',
  path: '/api/plan/revisions/{number}/timeline',
  summary: 'What a revision keeps, predicted beside measured: by the hour for a day, then by the day for two weeks.',
  failure: 'The revision could not be loaded',
  permission: 'see',
  input: revisionNumber,
});

export const restoreRevision = operation({
  method: 'POST',
  path: '/api/plan/revisions/{number}/restore',
  summary: 'Copies an old revision to the draft.',
  failure: 'The revision could not be restored',
  permission: 'design',
  input: revisionNumber,
});

export const matches = operation({
  method: 'POST',
  path: '/api/routing/matches',
  summary:
    'How much of the last 24 hours the condition of a tier, or (`within`) of one of its exclusions, matches, with five lines.',
  failure: 'The matches could not be counted',
  permission: 'see',
  input: object({
    condition: conditionShape.defined(),
    tier: string().max(64),
    within: boolean().default(false),
    /** Conditions that are asked before this one, such as those of exclusions above. */
    before: array(conditionShape.defined()).max(200).default([]),
  }),
});

export const routing = operation({
  method: 'GET',
  path: '/api/routing',
  summary: 'For each tier, volume of the last 24 hours and what it stores.',
  failure: 'The tiers could not be loaded',
  permission: 'see',
  input: object({}),
});

export const steps = operation({
  method: 'GET',
  path: '/api/steps',
  summary: 'Measures of each step of the live plan.',
  failure: 'The steps could not be loaded',
  permission: 'see',
  input: object({}),
});

export const tables = operation({
  method: 'GET',
  path: '/api/tables',
  summary: 'All lookup tables.',
  failure: 'The tables could not be loaded',
  permission: 'see',
  input: object({}),
});

export const saveTable = operation({
  method: 'PUT',
  path: '/api/tables',
  summary: 'Creates or replaces a lookup table.',
  failure: 'The table is not valid',
  permission: 'operate',
  input: table,
});

export const removeTable = operation({
  method: 'DELETE',
  path: '/api/tables',
  summary: 'Removes a lookup table.',
  failure: 'The table could not be removed',
  permission: 'operate',
  input: byName,
});

export const lookups = operation({
  method: 'POST',
  path: '/api/lookups',
  summary: 'Looks keys up in tables, and addresses among the places.',
  failure: 'The lookups are not valid',
  permission: 'see',
  input: lookupsShape,
});
