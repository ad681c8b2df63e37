import { boolean, object, string } from 'yup';
import { operation } from './operation.ts';

const shapeId = string()
  .required()
  .matches(/^[0-9a-z]{5,10}$/, 'a shape is named by ten small letters and digits');

const window = { from: string().default('-1d'), to: string().default('now') };

export const shapes = operation({
  method: 'GET',
  path: '/api/shapes',
  summary: 'The kinds of lines that came in a window, with the volume of each and what became of it.',
  failure: 'The shapes could not be read',
  permission: 'see',
  input: object({ condition: string().max(20_000).default(''), ...window }),
});

export const shape = operation({
  method: 'GET',
  path: '/api/shapes/{id}',
  summary: 'One kind of line: what fills its holes, what becomes of it, and who reads it.',
  failure: 'The shape could not be read',
  permission: 'see',
  input: object({ id: shapeId, ...window }),
});

export const wantShape = operation({
  method: 'PUT',
  path: '/api/shapes/{id}',
  summary: 'Says whether a kind of line is wanted: one that is, is never suggested for exclusion.',
  failure: 'It could not be said',
  permission: 'operate',
  input: object({ id: shapeId, wanted: boolean().required() }),
});
