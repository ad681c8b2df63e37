import fc from 'fast-check';
import { expect, test } from 'vitest';
import { compileCondition } from './condition.ts';
import { parseCondition } from './parse.ts';
import { expandSaved } from './saved.ts';

const saved = new Map([
  ['night-errors', 'severity >= error or took > 2s'],
  ['piers', 'source = gates\n# and what belongs to them\nor source = tides'],
  ['both', 'saved:night-errors saved:piers'],
  ['all', ''],
  ['ring', 'not saved:ring2'],
  ['ring2', 'lane = north saved:Ring'],
  ['broken', 'saved:gone'],
]);
const text = (condition: string): string => {
  const expanded = expandSaved(condition, saved);
  return expanded.ok ? expanded.text : expanded.problem.message;
};

test('a saved search is the condition that it stands for', () => {
  expect(text('saved:night-errors source = gates')).toBe('(severity >= error or took > 2s) source = gates');
  expect(text('not SAVED:Night-Errors')).toBe('not (severity >= error or took > 2s)');
  expect(text('saved:all')).toBe('*');
  expect(text('status = 200')).toBe('status = 200');
  expect(text('"saved:piers"')).toBe('"saved:piers"');
});

test('whatever stands together can be read', () => {
  const part = fc.constantFrom(
    'saved:both',
    'saved:piers',
    'saved:all',
    'lane = north',
    'boards',
    'not',
    'or',
    '(',
    ')',
  );
  fc.assert(
    fc.property(fc.array(part, { minLength: 1, maxLength: 8 }), (parts) => {
      const condition = parts.join(' ');
      const expanded = expandSaved(condition, saved);
      if (!expanded.ok) throw new Error(expanded.problem.message);
      expect(compileCondition(expanded.text).ok).toBe(parseCondition(condition).problem === undefined);
    }),
  );
});

test('what is wrong is reported where the name is', () => {
  expect(expandSaved('lane = north saved:night-erors', saved)).toEqual({
    ok: false,
    problem: {
      start: 13,
      end: 30,
      message: 'no search is saved as night-erors',
      suggestion: 'saved:night-errors',
    },
  });
  expect(text('saved:ring')).toBe('in the saved search ring: the saved search ring stands for itself');
  expect(text('saved:broken')).toBe('in the saved search broken: no search is saved as gone');
});

test('a condition by itself does not know what is saved', () => {
  expect(compileCondition('lane = north saved:piers')).toMatchObject({ ok: false, problem: { start: 13, end: 24 } });
});
