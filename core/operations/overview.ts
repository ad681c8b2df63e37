import { object } from 'yup';
import { operation } from './operation.ts';

export const overview = operation({
  method: 'GET',
  path: '/api/overview',
  summary: 'Flow of the last 24 hours, and what needs attention.',
  failure: 'The overview could not be loaded',
  permission: 'see',
  input: object({}),
});

export const stageFigures = operation({
  method: 'GET',
  path: '/api/stages',
  summary: 'Live figures for the navigation.',
  failure: 'The figures could not be loaded',
  permission: 'see',
  input: object({}),
});
