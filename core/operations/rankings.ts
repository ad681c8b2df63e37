import { object, string } from 'yup';
import { parseLeftOut } from '../talkers/left-out.ts';
import { operation } from './operation.ts';

const rankingId = string()
  .required()
  .matches(/^[a-z0-9][a-z0-9-]{0,62}$/, 'the id of a ranking has lower-case letters, digits and dashes');

export const rankings = operation({
  method: 'GET',
  path: '/api/rankings',
  summary: 'Talker rankings of the draft, or of the live plan without one, with the first of the last 24 hours.',
  failure: 'The rankings could not be loaded',
  permission: 'see',
  input: object(),
});

export const ranking = operation({
  method: 'GET',
  path: '/api/rankings/{id}',
  summary:
    'A ranking over a window or one of its steps (`at`, a time), without some values (`without`, JSON: a list of lists of values).',
  failure: 'The ranking could not be loaded',
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
