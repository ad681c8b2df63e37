import { object } from 'yup';
import { operation } from './operation.ts';

export const suggestions = operation({
  method: 'GET',
  path: '/api/suggestions',
  summary:
    'What is worth doing: kinds of lines of which none need be kept, as a metric counts them all and no saved search looks for them; as the draft has it where there is one.',
  failure: 'It could not be told what is worth doing',
  permission: 'see',
  input: object(),
});
