import { expect, test } from 'vitest';
import { wordDoubts } from './word-doubts.ts';

const fields = [
  {
    name: 'status',
    top: [
      { value: '200', count: 90 },
      { value: '404', count: 9 },
    ],
  },
  { name: 'old.code', top: [{ value: '404', count: 2 }] },
  { name: 'Berth Name', top: [{ value: 'Eilean Ruadh', count: 5 }] },
  { name: 'acquirer', top: [{ value: 'north', count: 3 }] },
];

test.each([
  ['404', [['404', 'status = 404']]],
  ['source = web North timeout', [['North', 'acquirer = north']]],
  [
    'not 404 or (north)',
    [
      ['404', 'status = 404'],
      ['north', 'acquirer = north'],
    ],
  ],
  ['status = 404', []],
  ['"404"', []],
  ['Eilean', []],
  ['4', []],
  ['status = (', []],
])('%s', (condition, expected) => {
  const doubts = wordDoubts(condition, fields);
  expect(doubts.map(({ start, end, suggestion }) => [condition.slice(start, end), suggestion])).toEqual(expected);
});
