import { expect, test } from 'vitest';
import { operations } from '#core/operations/index.ts';
import type { Operation } from '#core/operations/operation.ts';
import { addressOf } from './client.ts';
import routes from './routes.json' with { type: 'json' };

test('every operation has its method and path (`npm run answers` writes them anew)', () => {
  const routeOf = ({ method, path, takes }: Operation) => ({ method, path, ...(takes && { takes }) });
  const declared: readonly (readonly [string, Operation])[] = Object.entries(operations);
  expect(routes).toEqual(Object.fromEntries(declared.map(([name, operation]) => [name, routeOf(operation)])));
});

test('an address has the parts of its path and its query, and leaves out what is undefined', () => {
  expect(addressOf('source', { name: 'a b/c' })).toBe('/api/sources/a%20b%2Fc');
  expect(addressOf('costs', { by: 'team', team: undefined })).toBe('/api/costs?by=team');
  expect(addressOf('stageFigures', {})).toBe('/api/stages');
});
