import { expect, test } from 'vitest';
import { readLabels, writeLabels } from './labels.ts';

test('labels survive being written and read', () => {
  const labels = { site: 'pier-4', environment: 'prod' };
  expect(writeLabels(labels)).toBe('site=pier-4, environment=prod');
  expect(readLabels(writeLabels(labels))).toEqual(labels);
  expect(readLabels('')).toEqual({});
});

test('blanks do not matter, and pieces that are no label are left out', () => {
  expect(readLabels(' site = pier-4 ,, environment, =x, y= ')).toEqual({ site: 'pier-4' });
});
