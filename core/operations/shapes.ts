import { boolean, object, string } from 'yup';
import { longest } from '../plan/parts/limits.ts';
import { operation } from './operation.ts';
import { shapeId } from './requests/shape-id.ts';

const window = { from: string().default('-1d'), to: string().default('now') };

export const shapes = operation({
  method: 'GET',
  path: '/api/shapes',
  summary: 'Shapes of lines in a window, with their volume and what became of it.',
  failure: 'The shapes could not be loaded',
  permission: 'see',
  input: object({ condition: string().max(longest.condition).default(''), ...window }),
});

export const shape = operation({
  method: 'GET',
  path: '/api/shapes/{id}',
  summary: 'One shape: the values of its holes, what becomes of it, and what uses it.',
  failure: 'The shape could not be loaded',
  permission: 'see',
  input: object({ id: shapeId, ...window }),
});

export const wantShape = operation({
  method: 'PUT',
  path: '/api/shapes/{id}',
  summary: 'Marks a shape as wanted, or not. Wanted shapes are never suggested for exclusion.',
  failure: 'The shape could not be marked',
  permission: 'operate',
  input: object({ id: shapeId, wanted: boolean().required() }),
});
