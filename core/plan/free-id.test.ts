import { describe, expect, test } from 'vitest';
import { freeId } from './free-id.ts';

describe('ids', () => {
  test.each([
    ['Pier gates', 'pier-gates'],
    ['  Ræv & fjord! ', 'r-v-fjord'],
    ['', 'unnamed'],
    ['!!!', 'unnamed'],
    ['x'.repeat(80), 'x'.repeat(50)],
  ])('%j gives %s', (title, id) => {
    expect(freeId(title, [])).toBe(id);
  });

  test('are numbered on where they are taken', () => {
    expect(freeId('Gates', ['gates'])).toBe('gates-2');
    expect(freeId('Gates', ['gates', 'gates-2', 'gates-3'])).toBe('gates-4');
  });
});
