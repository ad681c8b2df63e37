import { array, mixed, number, object, string } from 'yup';
import type { SchemaMeta } from '#core/plan/json-schema.ts';
import { maxTableBytes } from '#core/tables/table.ts';
import { nameShape } from './sources.ts';

const anyPlan: SchemaMeta = { jsonSchema: { type: 'object', description: 'A plan; it may be unfinished.' } };

/** A draft to be stored. */
export const draftBody = object({
  plan: mixed((value): value is object => typeof value === 'object' && value !== null)
    .required()
    .meta(anyPlan),
});

/** What a revision is for, and of which tiers (by id) stored events may go that it shortens or takes out. */
export const publishBody = object({
  note: string().trim().max(1000).default(''),
  letGo: array(string().required().max(64)).max(100).default([]),
});

/** Something by its number, as it stands in a path. */
export const byNumber = object({ id: number().integer().min(1).max(Number.MAX_SAFE_INTEGER).required() });

/** A plan, or one pipeline under the key `pipeline`, as YAML. */
export const planText = object({ text: string().required().max(1_000_000) });

/** Rejects of one reason; empty: all. */
export const rejectsOf = object({ reason: string().defined().max(1_000).default('') });

/** A table that steps look values up in. */
export const table = object({ name: nameShape, csv: string().required().max(maxTableBytes) });
