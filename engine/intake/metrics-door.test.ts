import { hostname } from 'node:os';
import { expect, test } from 'vitest';
import { isKnownHost, isShown } from './metrics-door.ts';

const door = { token: 'secret', hosts: ['Otter.example'] };

test.each([
  '127.0.0.1:4318',
  'localhost',
  'LOCALHOST:4318',
  '[::1]:4318',
  '192.0.2.7:80',
  hostname(),
  'otter.example:4318',
])('%s is a host that may be asked', (host) => expect(isKnownHost(door, host)).toBe(true));

test.each([
  undefined,
  '',
  'evil.example',
  'localhost.evil.example',
  '127.0.0.1.evil.example:4318',
  'otter.example.evil',
])('%s is none', (host) => expect(isKnownHost(door, host)).toBe(false));

test('a token has to be shown where there is one', () => {
  expect([isShown(door, 'secret'), isShown(door, 'secre'), isShown(door, undefined)]).toEqual([true, false, false]);
  expect(isShown({ ...door, token: '' }, undefined)).toBe(true);
});
