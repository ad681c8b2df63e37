import { array, boolean, mixed, number, object, string } from 'yup';
import type { SchemaMeta } from '../../plan/json-schema.ts';

const anyTime: SchemaMeta = {
  jsonSchema: { type: ['number', 'string'], description: 'Milliseconds, or a text: -45m, now, 2026-11-24T08:15.' },
};

const time = mixed<number | string>(
  (value): value is number | string => typeof value === 'number' || typeof value === 'string',
)
  .required()
  .meta(anyTime);

/** A search; times are milliseconds or texts such as `-45m`, `now` or `2026-11-24T08:15`. */
export const searchBody = object({
  condition: string().max(20_000).default(''),
  from: time,
  to: time,
  /** A summary such as `count() by source every 5m`; empty for none. */
  show: string().max(5_000).default(''),
  tiers: array(string().required().max(64)).max(100),
  limit: number().integer().min(0).max(1_000).default(100),
  buckets: number().integer().min(0).max(1_000).default(60),
  fields: boolean().default(false),
});

/** What of the volume ledger is summed: a window, keys between commas, and slices as a duration. */
export const volumeQuery = object({
  from: string().default('-1d'),
  to: string().default('now'),
  by: string().default('source'),
  every: string().default(''),
});

/** What emitters sent in a window; of one source where it is given. */
export const emittersQuery = object({ from: string().default('-1d'), to: string().default('now'), source: string() });
