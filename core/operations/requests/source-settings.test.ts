import { describe, expect, test } from 'vitest';
import { longest } from '../../plan/parts/limits.ts';
import { operations } from '../index.ts';
import { conditionShape, labelsShape, settingsShape } from './source-settings.ts';

describe('settings of a source', () => {
  test.each([
    {},
    { masks: [{ find: 'email', with: 'hash' }] },
    { masks: [{ after: 'pin=', with: 'remove' }] },
    { globs: ['/srv/logs/*.log'], join: { continues: '^\\s' } },
    { url: 'http://127.0.0.1:9000/list', path: '{site}/{rest:rest}' },
    { url: 'file:///srv/objects/' },
    { retired: true, expectedBack: 1 },
  ])('%j are taken', (settings) => {
    expect(settingsShape.isValidSync(settings)).toBe(true);
  });

  test.each([
    [{ masks: [{ find: 'faces', with: 'hash' }] }, /find/],
    [{ masks: [{ find: 'email', after: 'pin=', with: 'hash' }] }, /either find or after/],
    [{ masks: [{ find: 'email', with: 'blur' }] }, /with/],
    [{ masks: Array.from({ length: 21 }, () => ({ find: 'ip', with: 'hash' })) }, /masks/],
    [{ url: 'ftp://192.0.2.1/' }, /begins with http/],
    [{ path: 'logs/{' }, /not a line template/],
    [{ globs: ['/srv/logs/\0'] }, /control characters/],
  ])('%j are refused', (settings, message) => {
    expect(() => settingsShape.validateSync(settings)).toThrow(message);
  });
});

test('what only the engine sets is not taken from outside', () => {
  expect(settingsShape.cast({ paused: true, retired: true })).toEqual({ retired: true });
});

test('labels are short names with short texts', () => {
  expect(labelsShape.isValidSync({ site: 'pier-4', 'environment.kind': 'prod' })).toBe(true);
  expect(labelsShape.isValidSync({ 'with blank': 'x' })).toBe(false);
  expect(labelsShape.isValidSync({ site: 4 })).toBe(false);
  expect(labelsShape.isValidSync({ site: 'x'.repeat(201) })).toBe(false);
});

test('a condition that is wrong is refused with its place', () => {
  expect(conditionShape.isValidSync('site = pier-4')).toBe(true);
  expect(conditionShape.isValidSync('')).toBe(true);
  expect(() => conditionShape.validateSync('site = ')).toThrow(/the condition is wrong: .+ \(character \d+\)/);
});

test('a condition that is as long as one of the plan may be can be tried', () => {
  const { input } = operations.matches;
  const condition = `"${'x'.repeat(longest.condition - 2)}"`;
  expect(input.isValidSync({ condition, tier: 'rest' })).toBe(true);
  expect(input.isValidSync({ condition: `${condition} `, tier: 'rest' })).toBe(false);
});
