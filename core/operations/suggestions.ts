import { object } from 'yup';
import { operation } from './operation.ts';

export const suggestions = operation({
  method: 'GET',
  path: '/api/suggestions',
  summary:
    'Suggested savings: shapes that need not be kept, as a metric counts them all and no saved search uses them; for the draft, or the live plan without one.',
  failure: 'The suggestions could not be loaded',
  permission: 'see',
  input: object(),
});
