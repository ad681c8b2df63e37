import { object } from 'yup';
import { operation } from './operation.ts';

export const demo = operation({
  method: 'GET',
  path: '/api/demo',
  summary: 'Whether this installation has the demo data, and how much of it is loaded.',
  failure: 'The state of the demo data could not be loaded',
  permission: 'see',
  input: object({}),
});

export const loadDemo = operation({
  method: 'POST',
  path: '/api/demo',
  summary:
    'Loads the demo data: the sources of a made-up company with two weeks of events, a plan and prices. From then on its events arrive as they happen.',
  failure: 'The demo data could not be loaded',
  permission: 'publish',
  input: object({}),
  status: 202,
});

export const removeDemo = operation({
  method: 'DELETE',
  path: '/api/demo',
  summary: 'Removes the demo data: its sources with all their events, its part of the plan, its fleets and prices.',
  failure: 'The demo data could not be removed',
  permission: 'publish',
  input: object({}),
  status: 202,
});
