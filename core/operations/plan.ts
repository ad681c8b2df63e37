import { array, boolean, number, object, string } from 'yup';
import { lookupsShape } from '../steps/lookups.ts';
import { operation } from './operation.ts';
import { byNumber, draftBody, planText as planTextShape, publishBody, rebaseBody, table } from './requests/plan.ts';
import { conditionShape } from './requests/source-settings.ts';
import { byName } from './requests/sources.ts';

export const plan = operation({
  method: 'GET',
  path: '/api/plan',
  summary: 'The live plan and its revision.',
  failure: 'The plan could not be read',
  permission: 'see',
  input: object({}),
});

export const shadows = operation({
  method: 'GET',
  path: '/api/routing/shadows',
  summary:
    'How much of what each tier would match goes to tiers above it, by the tape of the last day; live and draft.',
  failure: 'It could not be told',
  permission: 'see',
  input: object({ version: number().integer().min(0) }),
});

export const caps = operation({
  method: 'GET',
  path: '/api/routing/caps',
  summary:
    'What tiers with caps have kept of their day, what went past them by source and shape, when the cap will be met; and a cap for each tier by what was measured.',
  failure: 'The caps could not be read',
  permission: 'see',
  input: object({}),
});

export const planText = operation({
  method: 'GET',
  path: '/api/plan/text',
  summary: 'The draft, or the live plan, as YAML; or one pipeline of it.',
  failure: 'The plan could not be read',
  permission: 'see',
  input: object({ pipeline: string() }),
  gives: ['application/yaml'],
});

export const takePlanText = operation({
  method: 'PUT',
  path: '/api/plan/text',
  summary: 'Takes a plan or one pipeline from YAML into the draft.',
  failure: 'The text could not be taken',
  permission: 'design',
  input: planTextShape,
});

export const draft = operation({
  method: 'GET',
  path: '/api/plan/draft',
  summary: 'The draft with its changes and problems; null where there is none.',
  failure: 'The draft could not be read',
  permission: 'see',
  input: object({}),
});

export const saveDraft = operation({
  method: 'PUT',
  path: '/api/plan/draft',
  summary: 'Stores the draft. `version` is that of the draft that was changed (0: there was none).',
  failure: 'The draft could not be stored',
  permission: 'design',
  input: draftBody,
});

export const discardDraft = operation({
  method: 'DELETE',
  path: '/api/plan/draft',
  summary: 'Throws the draft away; it can be taken up again for a day.',
  failure: 'The draft could not be discarded',
  permission: 'design',
  input: object({}),
});

export const rehearseDraft = operation({
  method: 'POST',
  path: '/api/plan/draft/rehearsal',
  summary: 'Rehearses the draft on the tape of the last day.',
  failure: 'The draft could not be rehearsed',
  permission: 'design',
  input: object({}),
});

export const rebaseDraft = operation({
  method: 'POST',
  path: '/api/plan/draft/rebase',
  summary: 'Puts the draft on the live revision, with what others published since; `choices` says which side counts.',
  failure: 'The draft could not be put on the live revision',
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
  summary: 'The drafts that were thrown away within a day.',
  failure: 'The discarded drafts could not be read',
  permission: 'see',
  input: object({}),
});

export const takeUpDraft = operation({
  method: 'POST',
  path: '/api/plan/discarded/{id}',
  summary: 'Makes a discarded draft the draft again.',
  failure: 'The draft could not be taken up',
  permission: 'design',
  input: byNumber,
});

export const graces = operation({
  method: 'GET',
  path: '/api/plan/graces',
  summary: 'Stored events that are about to go, as a revision shortened their tier.',
  failure: 'What is about to go could not be read',
  permission: 'see',
  input: object({}),
});

export const keepGraced = operation({
  method: 'POST',
  path: '/api/plan/graces/{id}',
  summary: 'Keeps those events for as long as they were meant to be kept.',
  failure: 'The events could not be kept',
  permission: 'publish',
  input: byNumber,
});

export const revisions = operation({
  method: 'GET',
  path: '/api/plan/revisions',
  summary: 'The revisions, newest first, with what they changed and brought.',
  failure: 'The revisions could not be read',
  permission: 'see',
  input: object({}),
});

export const restoreRevision = operation({
  method: 'POST',
  path: '/api/plan/revisions/{number}/restore',
  summary: 'Makes an old revision the draft.',
  failure: 'The revision could not be brought back',
  permission: 'design',
  input: object({ number: number().integer().min(1).max(Number.MAX_SAFE_INTEGER).required() }),
});

export const matches = operation({
  method: 'POST',
  path: '/api/routing/matches',
  summary:
    'How much of the last day a condition of a tier matches, or (`within`) one of its exclusions, with five lines.',
  failure: 'What the condition matches could not be read',
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
  summary: 'What each tier received in the last day, and what it holds.',
  failure: 'The tiers could not be read',
  permission: 'see',
  input: object({}),
});

export const steps = operation({
  method: 'GET',
  path: '/api/steps',
  summary: 'What each step of the live plan has done.',
  failure: 'The steps could not be read',
  permission: 'see',
  input: object({}),
});

export const tables = operation({
  method: 'GET',
  path: '/api/tables',
  summary: 'All tables that steps look values up in.',
  failure: 'The tables could not be read',
  permission: 'see',
  input: object({}),
});

export const saveTable = operation({
  method: 'PUT',
  path: '/api/tables',
  summary: 'Adds a table, or puts it in the place of the one of that name.',
  failure: 'The table is not valid',
  permission: 'operate',
  input: table,
});

export const removeTable = operation({
  method: 'DELETE',
  path: '/api/tables',
  summary: 'Removes a table.',
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
