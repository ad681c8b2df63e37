import { expect, test } from 'vitest';
import { inheritedKeyIn } from './inherited-keys.ts';

test.each([
  ['{"name":{"toString":1}}', 'name.toString'],
  ['{"text":"x","__proto__":1}', '__proto__'],
  ['{"tiers":[{"id":"a"},{"constructor":{}}]}', 'tiers.1.constructor'],
  ['{"a":{"b":{"hasOwnProperty":null}}}', 'a.b.hasOwnProperty'],
])('%s has a key that every object inherits', (json, path) => {
  expect(inheritedKeyIn(JSON.parse(json))).toBe(path);
});

test('values may say what keys may not, and what is no object has no keys', () => {
  const plain = { name: 'toString', list: ['__proto__', null, 7], inner: { tostring: 1, proto: {} } };
  for (const value of [plain, null, 7, 'constructor', [], undefined]) expect(inheritedKeyIn(value)).toBeUndefined();
});
