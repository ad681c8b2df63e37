import { deflateRawSync } from 'node:zlib';
import { expect, test } from 'vitest';
import { textAt } from '#core/events/text-table.ts';
import { compilePlan } from '#core/plan/compile.ts';
import type { StepDocument } from '#core/steps/step-document.ts';
import { tapedBatches } from './tape.ts';

const chunk = (source: string, format: string, ...lines: string[]) => ({
  source,
  data: deflateRawSync(lines.map((line, i) => JSON.stringify([1_000 + i, 2, format, line])).join('\n')),
});

function planWith(...steps: StepDocument[]) {
  return compilePlan({
    plan: 1,
    pipelines: [{ id: 'p', title: 'P', when: '', steps }],
    tiers: [{ id: 'rest', title: 'Rest', keep: '7d' }],
  });
}

const plain = planWith({ remove: { fields: ['a'] } });
const rowsOf = (batches: Iterable<{ readonly rows: number }>): readonly number[] =>
  [...batches].map(({ rows }) => rows);

test('chunks of the same source and format become one batch', () => {
  const chunks = [
    chunk('gates', 'text', 'one', 'two'),
    chunk('tides', 'text', 'low'),
    chunk('gates', 'text', 'three'),
    chunk('gates', 'json', '{"n":4}'),
  ];
  const batches = [...tapedBatches(chunks, [plain], 3)];
  expect(batches.map(({ source, rows }) => [source, rows])).toEqual([
    ['gates', 3],
    ['tides', 1],
    ['gates', 1],
  ]);
  const [first] = batches;
  expect(first && Array.from({ length: 3 }, (_, row) => textAt(first.body, row))).toEqual(['one', 'two', 'three']);
  // A record that represents two events, on a tape of which a third is read.
  expect(first?.weight[0]).toBe(6);
  expect(first?.received[2]).toBe(1_000);
});

test('chunks stay apart if a step joins lines, in a branch too', () => {
  const joins: StepDocument = { 'join-lines': { continues: '^ ' } };
  const chunks = [chunk('gates', 'text', 'one', 'two'), chunk('gates', 'text', ' three')];
  for (const plan of [planWith(joins), planWith({ choose: { branches: [{ when: 'a', steps: [joins] }] } })])
    expect(rowsOf(tapedBatches(chunks, [plain, plan]))).toEqual([2, 1]);
});

test('batches are bounded in records and in characters', () => {
  const many = Array.from({ length: 30 }, () =>
    chunk('gates', 'text', ...Array.from({ length: 400 }, (_, i) => `${i}`)),
  );
  expect(rowsOf(tapedBatches(many, [plain]))).toEqual([4_000, 4_000, 4_000]);
  const long = Array.from({ length: 100 }, () => chunk('gates', 'text', 'x'.repeat(200_000)));
  expect(rowsOf(tapedBatches(long, [plain]))).toEqual([40, 40, 20]);
  expect(rowsOf(tapedBatches([], [plain]))).toEqual([]);
});
