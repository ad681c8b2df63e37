import { array, mixed, number, object, string } from 'yup';
import type { SchemaMeta } from '../../input/json-schema.ts';
import type { Side } from '../../plan/merge.ts';
import { maxTableBytes } from '../../tables/table.ts';
import { nameShape } from './sources.ts';

const anyChoices: SchemaMeta = {
  jsonSchema: { type: 'object', additionalProperties: { type: 'string', enum: ['mine', 'theirs'] } },
};

const anyPlan: SchemaMeta = { jsonSchema: { type: 'object', description: 'A plan; it may be unfinished.' } };

/** A draft to be stored. */
export const draftBody = object({
  plan: mixed((value): value is object => typeof value === 'object' && value !== null)
    .required()
    .meta(anyPlan),
  /** Of the draft that was changed; 0: there was none. */
  version: number().integer().min(0).max(Number.MAX_SAFE_INTEGER).default(0),
  /** Where there was no draft: the revision that was changed; absent: the one that is live. */
  basedOn: number().integer().min(0).max(Number.MAX_SAFE_INTEGER),
});

/** Which side counts where the draft and what others published touch the same thing, by the path of the conflict. */
export const rebaseBody = object({
  choices: mixed((value): value is Readonly<Record<string, Side>> => isChoices(value))
    .default({})
    .meta(anyChoices),
});

const mostChoices = 1_000;

function isChoices(value: unknown): boolean {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return false;
  const sides = Object.values(value);
  return sides.length <= mostChoices && sides.every((side) => side === 'mine' || side === 'theirs');
}

/** What a revision is for, and of which tiers (by id) stored events may go that it shortens or takes out. */
export const publishBody = object({
  note: string().trim().max(1000).default(''),
  letGo: array(string().required().max(64)).max(100).default([]),
  /** Of the draft as it was looked at; absent: whatever it is now. */
  version: number().integer().min(1).max(Number.MAX_SAFE_INTEGER),
});

/** Something by its number, as it is in a path. */
export const byNumber = object({ id: number().integer().min(1).max(Number.MAX_SAFE_INTEGER).required() });

/** A plan, or one pipeline under the key `pipeline`, as YAML. */
export const planText = object({
  text: string().required().max(1_000_000),
  /** Of the draft that it takes the place of; absent: whatever it is now. */
  version: number().integer().min(0).max(Number.MAX_SAFE_INTEGER),
});

/** Rejects of one reason; empty: all. */
export const rejectsOf = object({ reason: string().defined().max(1_000).default('') });

/** A table that steps look values up in. */
export const table = object({ name: nameShape, csv: string().required().max(maxTableBytes) });
