import { object, string } from 'yup';
import { parseLeftOut } from '../talkers/left-out.ts';
import { operation } from './operation.ts';

const rankingId = string()
  .required()
  .matches(/^[a-z0-9][a-z0-9-]{0,62}$/, 'a ranking is named by small letters, digits and dashes');

export const rankings = operation({
  method: 'GET',
  path: '/api/rankings',
  summary:
    'The rankings of who contributes most, as the draft has them where there is one: who is first in the last day.',
  failure: 'The rankings could not be read',
  permission: 'see',
  input: object(),
});

export const ranking = operation({
  method: 'GET',
  path: '/api/rankings/{id}',
  summary:
    'A ranking in a window, by the whole of it or by one of its steps (`at`, a time), without some (`without`, JSON: a list of lists of values).',
  failure: 'The ranking could not be read',
  permission: 'see',
  input: object({
    id: rankingId,
    from: string().default('-1d'),
    to: string().default('now'),
    at: string().default(''),
    without: string()
      .max(20_000)
      .default('[]')
      .test('labels', 'without is a JSON list of lists of values', (text) => parseLeftOut(text ?? '') !== undefined),
  }),
});
