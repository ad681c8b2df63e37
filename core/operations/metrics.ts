import { mixed, object, string } from 'yup';
import { operation } from './operation.ts';

const metricId = string()
  .required()
  .matches(/^[a-z0-9][a-z0-9-]{0,62}$/, 'the id of a metric has lower-case letters, digits and dashes');

const window = { from: string().default('-1d'), to: string().default('now') };

export const metrics = operation({
  method: 'GET',
  path: '/api/metrics',
  summary: 'Derived metrics of the draft, or of the live plan without one: definition, series, and the last 24 hours.',
  failure: 'The metrics could not be loaded',
  permission: 'see',
  input: object(),
});

export const metric = operation({
  method: 'GET',
  path: '/api/metrics/{id}',
  summary:
    'Points of a metric in a window, grouped by some of its keys (`by`, separated by commas), for one of its figures.',
  failure: 'The metric could not be loaded',
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
  summary: 'Fills a metric in, once, from events stored before it began.',
  failure: 'The metric could not be filled in',
  permission: 'design',
  input: object({ id: metricId }),
});

export const metricExpression = operation({
  method: 'GET',
  path: '/api/metric-expression',
  summary:
    'Evaluates a formula of metrics (`expression`, such as `payments.failed / payments.all`) over a window, grouped by keys that all of them have.',
  failure: 'The formula could not be evaluated',
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
  summary: 'Previews a metric on the last day of recorded events: chart, series, and cost.',
  failure: 'The metric could not be previewed',
  permission: 'see',
  input: object({
    metric: mixed<object>((value): value is object => typeof value === 'object' && value !== null).required(),
  }),
});
