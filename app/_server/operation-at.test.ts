import { expect, test } from 'vitest';
import { operations } from '#core/operations/index.ts';
import { methodsAt, operationAt } from './operation-at.ts';

test('every operation is at its own address', () => {
  for (const [name, { method, path }] of Object.entries(operations)) {
    const at = path.replaceAll(/\{(\w+)\}/g, (_, part) => `some-${part}`);
    expect(operationAt(method, at)?.name).toBe(name);
  }
});

test('parts of a path are decoded, and a slash in one does not divide it', () => {
  expect(operationAt('PUT', '/api/exclusions/a%2Fb/caf%C3%A9')).toEqual({
    name: 'switchExclusion',
    params: { tier: 'a/b', exclusion: 'café' },
  });
});

test('a HEAD is answered as a GET', () => {
  expect(operationAt('HEAD', '/api/sources')?.name).toBe('sources');
});

test('an unknown address has no methods, a known one says which it has', () => {
  expect(operationAt('GET', '/api/nothing')).toBeUndefined();
  expect(methodsAt('/api/nothing')).toEqual([]);
  expect(operationAt('PATCH', '/api/sources')).toBeUndefined();
  expect([...methodsAt('/api/sources')].sort()).toEqual(['GET', 'POST']);
});
