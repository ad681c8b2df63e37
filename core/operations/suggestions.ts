import { object } from 'yup';
import { operation } from './operation.ts';

export const suggestions = operation({
  method: 'GET',
  path: '/api/suggestions',
  summary:
    'Suggested savings: shapes that nobody looks for, because a metric counts them all or because nothing reads them; for the draft, or the live plan without one.',
  failure: 'The suggestions could not be loaded',
  permission: 'see',
  input: object(),
});
