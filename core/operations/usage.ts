import { object, string } from 'yup';
import { usedKinds } from '../usage/usage.ts';
import { operation } from './operation.ts';

export const usage = operation({
  method: 'GET',
  path: '/api/usage',
  summary:
    'How often a source, tier, shape, field or metric was read in the last 30 days, and how old the oldest event was.',
  failure: 'The usage could not be loaded',
  permission: 'see',
  input: object({ kind: string().oneOf(usedKinds).required(), name: string().required().max(256) }),
});

export const usageByName = operation({
  method: 'GET',
  path: '/api/usage/{kind}',
  summary:
    'How often each source, tier, shape, field or metric was read in the last 30 days, at most 5,000, the most read first.',
  failure: 'The usage could not be loaded',
  permission: 'see',
  input: object({ kind: string().oneOf(usedKinds).required() }),
});
