import { boolean, number, object, string } from 'yup';
import { costKeys } from '../costs/cost-keys.ts';
import { costSteps } from '../costs/cost-steps.ts';
import { operation } from './operation.ts';

/** Longest price book, in characters. */
const longestBook = 1_000_000;

const anyKey = `(${costKeys.join('|')})`;
const oneOrTwoKeys = new RegExp(`^${anyKey}(,${anyKey})?$`);

const day = string().matches(/^\d{4}-\d\d-\d\d$/, 'A day such as 2026-11-01.');

export const costs = operation({
  method: 'GET',
  path: '/api/costs',
  summary:
    'Costs of a window of days, by one key or two, in the smallest unit of the currency; with `Accept: text/csv` as CSV, in the currency.',
  failure: 'The costs could not be computed',
  permission: 'see',
  input: object({
    from: day,
    /** The day after the last one. */
    to: day,
    /** One of the keys, or two with a comma between them. */
    by: string()
      .matches(oneOrTwoKeys, `One of ${costKeys.join(', ')}, or two with a comma between them.`)
      .default('source'),
    /** In which steps; all in one where it is left out. */
    every: string().oneOf(costSteps),
    /** Of sources that this team owns alone. */
    team: string().max(64),
  }),
});

export const costMonth = operation({
  method: 'GET',
  path: '/api/costs/month',
  summary:
    'Costs of a calendar month (UTC): so far, forecast, budgets, and changes in that month; this month or an earlier one, in total or of a team.',
  failure: 'The costs of the month could not be computed',
  permission: 'see',
  input: object({
    /** Such as `2026-10`. */
    month: string().matches(/^\d{4}-(0[1-9]|1[0-2])$/, 'A month such as 2026-10.'),
    team: string().max(64),
  }),
});

export const retentionCost = operation({
  method: 'GET',
  path: '/api/costs/retention',
  summary: 'Cost of a tier per 30 days with its retention and with another one, each once the tier is full.',
  failure: 'The cost of the retention could not be computed',
  permission: 'see',
  input: object({
    tier: string().required().max(64),
    /** For how long it is to keep, such as `7d`. */
    keep: string().required().max(32),
  }),
});

export const prices = operation({
  method: 'GET',
  path: '/api/prices',
  summary: 'The price book, as YAML.',
  failure: 'The price book could not be read',
  permission: 'see',
  input: object({}),
});

export const savePrices = operation({
  method: 'PUT',
  path: '/api/prices',
  summary: 'Replaces the price book (YAML). Problems are reported with their line and column.',
  failure: 'The price book could not be saved',
  permission: 'publish',
  input: object({
    text: string().required('The price book is empty.').max(longestBook),
    /** When the book was saved that this one was made from (milliseconds); null for none. Refused where another one holds by now. */
    basedOn: number().nullable(),
  }),
});

export const showPrices = operation({
  method: 'PUT',
  path: '/api/prices/shown',
  summary: 'Hides money on all screens and in all answers, or shows it again. The price book is kept.',
  failure: 'The setting could not be changed',
  permission: 'publish',
  input: object({ shown: boolean().required('shown is missing: true or false.') }),
});

export const tryPrices = operation({
  method: 'POST',
  path: '/api/prices/trial',
  summary: 'Forecast of this month with a price book (YAML) that is not saved.',
  failure: 'The price book could not be tried',
  permission: 'see',
  input: object({ text: string().required('The price book is empty.').max(longestBook) }),
});
