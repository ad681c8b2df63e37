import { mixed, object, string } from 'yup';
import { operation } from './operation.ts';

const metricId = string()
  .required()
  .matches(/^[a-z0-9][a-z0-9-]{0,62}$/, 'a metric is named by small letters, digits and dashes');

const window = { from: string().default('-1d'), to: string().default('now') };

export const metrics = operation({
  method: 'GET',
  path: '/api/metrics',
  summary: 'Derived metrics, as the draft has them where there is one: what they keep, their series, and the last day.',
  failure: 'The metrics could not be read',
  permission: 'see',
  input: object(),
});

export const metric = operation({
  method: 'GET',
  path: '/api/metrics/{id}',
  summary: 'The points of a metric in a window, by keys of it (`by`, with commas), as one of its figures.',
  failure: 'The metric could not be read',
  permission: 'see',
  input: object({
    id: metricId,
    ...window,
    by: string().max(300).default(''),
    figure: string().max(20).default(''),
    before: string().oneOf(['', 'yes']).default(''),
  }),
});

export const fillMetric = operation({
  method: 'POST',
  path: '/api/metrics/{id}/fill',
  summary: 'Fills a metric in from the events that were stored before it began; once.',
  failure: 'The metric could not be filled in',
  permission: 'design',
  input: object({ id: metricId }),
});

export const metricExpression = operation({
  method: 'GET',
  path: '/api/metric-expression',
  summary:
    'Several metrics put together (`expression`, such as `payments.failed / payments.all`) in a window, by keys that all of them have.',
  failure: 'The metrics could not be put together',
  permission: 'see',
  input: object({
    expression: string().required().max(2_000),
    ...window,
    by: string().max(300).default(''),
  }),
});

export const tryMetric = operation({
  method: 'POST',
  path: '/api/metric-trial',
  summary: 'What a metric would be made of, by the tape of the last day: its chart, its series, and what they cost.',
  failure: 'The metric could not be tried',
  permission: 'see',
  input: object({
    metric: mixed<object>((value): value is object => typeof value === 'object' && value !== null).required(),
  }),
});
