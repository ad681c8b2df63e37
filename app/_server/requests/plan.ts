import { mixed, object, string } from 'yup';
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

/** What a revision is for. */
export const publishBody = object({ note: string().trim().max(1000).default('') });

/** A plan, or one pipeline under the key `pipeline`, as YAML. */
export const planText = object({ text: string().required().max(2_000_000) });

/** Rejects of one reason; empty: all. */
export const rejectsOf = object({ reason: string().defined().default('') });

/** A table that steps look values up in. */
export const table = object({ name: nameShape, csv: string().required().max(maxTableBytes) });
