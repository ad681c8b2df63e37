import { array, boolean, mixed, number, object, string } from 'yup';
import { parseWindow } from '../../conditions/times.ts';
import { exportFormats } from '../../exports/index.ts';
import type { SchemaMeta } from '../../input/json-schema.ts';
import { longest } from '../../plan/parts/limits.ts';
import { eventIdPattern } from '../../search/event-id.ts';
import { searchOrders } from '../../search/order.ts';
import { parseSummary } from '../../summaries/parse-summary.ts';
import { nameShape } from './sources.ts';

const anyTime: SchemaMeta = {
  jsonSchema: { type: ['number', 'string'], description: 'Milliseconds, or a text: -45m, now, 2026-11-24T08:15.' },
};

const time = mixed<number | string>(
  (value): value is number | string => typeof value === 'number' || typeof value === 'string',
)
  .required()
  .meta(anyTime);

const optionalTime = mixed<number | string>(
  (value): value is number | string => typeof value === 'number' || typeof value === 'string',
).meta(anyTime);

/** A template whose fields events have for one search. */
const extraction = {
  /** A line template; empty for none. */
  with: string().max(5_000).default(''),
  /** The text that it cuts: `body`, or an attribute. */
  withFrom: string().min(1).max(longest.field).default('body'),
};

/** A search; times are milliseconds or texts such as `-45m`, `now` or `2026-11-24T08:15`. */
export const searchBody = object({
  condition: string().max(longest.condition).default(''),
  from: time,
  to: time,
  /** A summary such as `count() by source every 5m`; empty for none. */
  show: string().max(5_000).default(''),
  ...extraction,
  tiers: array(string().required().max(longest.name)).max(100),
  limit: number().integer().min(0).max(1_000).default(100),
  /** Which events are returned where more are found than `limit`. */
  order: string().oneOf(searchOrders).default('newest'),
  /** False: no more is read than it takes to find the events that are returned, and `total` is how many these are. */
  count: boolean().default(true),
  buckets: number().integer().min(0).max(1_000).default(60),
  fields: boolean().default(false),
  /** True for searches that nobody reads, such as a check: they do not count as usage. */
  background: boolean().default(false),
});

/** A figure whose change is to be explained; times as in a search. With `besideFrom` and `besideTo` the window is compared with another one. */
export const whyBody = object({
  condition: string().max(longest.condition).default(''),
  /** `events`, `bytes`, `received events`, `received bytes`, `cost`, `share of …` with a condition, or one figure of a summary, such as `p95(took)`. */
  measure: string().max(5_000).default('events'),
  from: time,
  to: time,
  besideFrom: optionalTime,
  besideTo: optionalTime,
});

/** What is found, to be written out: the window as in a search, and the name of a form. */
export const exportQuery = object({
  condition: string().max(longest.condition).default(''),
  from: string().required(),
  to: string().required(),
  ...extraction,
  format: string()
    .oneOf([...exportFormats.keys()])
    .default('ndjson'),
});

/** A search that found nothing; times as in a search. */
export const emptySearch = searchBody.pick(['condition', 'from', 'to', 'with', 'withFrom']);

/** An event by its id: when it happened in milliseconds, a hyphen, and eight hexadecimal digits. */
export const byEventId = object({
  id: string().required().matches(eventIdPattern, 'the id of an event is its time and eight hexadecimal digits'),
});

const windowFault = 'A window is written like -2h or 2026-11-24T08:00..2026-11-24T09:00.';

/** A search to be saved; `version` is that of the one that is changed, 0 where there was none of the name. */
export const savedSearch = object({
  name: nameShape,
  condition: string().max(longest.condition).default(''),
  window: string()
    .trim()
    .required(windowFault)
    .max(200)
    .test('window', windowFault, (text) => parseWindow(text, Date.now()) !== undefined),
  /** A summary such as `count() by source`; empty where lines are shown. */
  summary: string()
    .max(5_000)
    .default('')
    .test('summary', 'The summary cannot be read.', (text) => text === '' || parseSummary(text).ok),
  owner: string().trim().max(64).default(''),
  note: string().trim().max(1_000).default(''),
  version: number().integer().min(0).default(0),
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
