import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { arrival, batchOf } from '../testing/batch-of.ts';
import { conditionOf } from './condition.ts';
import { mayHold } from './may-hold.ts';

const batch = batchOf([{ pier: 4, lane: 'a' }, { pier: 5, lane: 'b' }, { lane: 'a' }], 'gates');
const now = arrival;

function rows(text: string, known: readonly string[]): readonly number[] {
  return [...mayHold(conditionOf(text).node, batch, { now }, (field) => known.includes(field))];
}

describe('a condition of which some fields are known', () => {
  test.each([
    ['source = gates', ['source'], [1, 1, 1]],
    ['source = tides', ['source'], [0, 0, 0]],
    ['source = tides or fleet = piers', ['source'], [1, 1, 1]],
    ['source = tides and fleet = piers', ['source'], [0, 0, 0]],
    ['not fleet = piers', ['source'], [1, 1, 1]],
    ['not (source = gates or fleet = piers)', ['source'], [0, 0, 0]],
    ['fleet = piers pier = 4', ['source', 'pier'], [1, 0, 0]],
    ['not (fleet = piers and pier = 4)', ['source', 'pier'], [1, 1, 1]],
    ['some words', ['source'], [1, 1, 1]],
    ['', [], [1, 1, 1]],
  ] as const)('%s, knowing %j', (text, known, expected) => {
    expect(rows(text, known)).toEqual(expected);
  });
});

const leaf = fc.constantFrom('pier = 4', 'pier > 4', 'lane = a', 'has pier', 'source = gates', 'source = tides');
const anyCondition = fc.letrec<{ node: string }>((tie) => ({
  node: fc.oneof(
    { maxDepth: 4 },
    leaf,
    fc.tuple(tie('node'), fc.constantFrom('and', 'or'), tie('node')).map(([a, how, b]) => `(${a} ${how} ${b})`),
    tie('node').map((a) => `not (${a})`),
  ),
})).node;

test('with all fields known it says what the condition says; with none it never rules out what holds', () => {
  fc.assert(
    fc.property(anyCondition, (text) => {
      const holds = [...conditionOf(text).test(batch, { now })];
      expect(rows(text, ['pier', 'lane', 'source'])).toEqual(holds);
      for (const known of [['source'], ['pier'], []]) {
        const may = rows(text, known);
        holds.forEach((each, row) => {
          expect(may[row]).toBeGreaterThanOrEqual(each);
        });
      }
    }),
  );
});
