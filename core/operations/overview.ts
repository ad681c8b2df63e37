import { object } from 'yup';
import { operation } from './operation.ts';

export const overview = operation({
  method: 'GET',
  path: '/api/overview',
  summary: 'Where everything flows, a day, and what needs someone.',
  failure: 'The overview could not be read',
  permission: 'see',
  input: object({}),
});

export const course = operation({
  method: 'GET',
  path: '/api/course',
  summary: 'The live figures under the names of the stages.',
  failure: 'The figures could not be read',
  permission: 'see',
  input: object({}),
});
