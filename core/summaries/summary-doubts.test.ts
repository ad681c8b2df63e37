import { expect, test } from 'vitest';
import { parseSummary } from './parse-summary.ts';
import { summaryDoubts } from './summary-doubts.ts';

const fields = ['source', 'took', 'count', 'pier'];

function doubts(text: string) {
  const parsed = parseSummary(text);
  if (!parsed.ok) throw new Error(parsed.problem.message);
  return summaryDoubts(parsed.summary, fields).map(({ start, end, suggestion }) => [
    text.slice(start, end),
    start,
    suggestion,
  ]);
}

test.each([
  ['count() by source, pier', []],
  ['count() by sorce', [['sorce', 11, 'source']]],
  ['sum(n), count() by n', [['n', 4, undefined]]],
  ['p95(tok) by pier every 1m', [['tok', 4, 'took']]],
  [
    'count() by tok, took.all',
    [
      ['tok', 11, 'took'],
      ['took.all', 16, undefined],
    ],
  ],
])('%s', (text, expected) => {
  expect(doubts(text)).toEqual(expected);
});
