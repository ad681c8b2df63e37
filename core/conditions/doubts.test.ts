import { describe, expect, test } from 'vitest';
import { conditionDoubts } from './doubts.ts';

const known = {
  fields: [
    ...['source', 'tier', 'fleet', 'severity', 'time', 'took', 'status', 'path'],
    ...['duration_ms', 'durationMs', 'wait.us', 'body_kb', 'took_s', 'sent_bytes', 'rooms', 'ms'],
  ],
  sources: ['timetable', 'payments'],
  tiers: ['rest', 'incidents'],
  fleets: ['ferries'],
};

describe('what can hardly be meant', () => {
  test.each([
    ['source = timetabel', 'there is no source timetabel', 9, 18, 'timetable'],
    ['source in (payments, timetabel)', 'there is no source timetabel', 21, 30, 'timetable'],
    ['tier != incident', 'there is no tier incident', 8, 16, 'incidents'],
    ['fleet = ferry', 'there is no fleet ferry', 8, 13, undefined],
    ['severity >= errr', 'there is no severity errr', 12, 16, 'error'],
    ['took > 2q', 'there is no unit q', 7, 9, undefined],
    ['took in 1s..2sec', 'there is no unit sec', 12, 16, '2s'],
    ['took > 2 sec', 'the word sec is looked for in the bodies', 7, 12, '2s'],
    [
      'duration_ms > 200ms',
      'by its name duration_ms counts milliseconds, but 200ms is compared as 0.2, in seconds',
      14,
      19,
      '200',
    ],
    [
      'durationMs in 1s..2',
      'by its name durationMs counts milliseconds, but 1s is compared as 1, in seconds',
      14,
      16,
      '1000',
    ],
    [
      'wait.us = 1.5ms',
      'by its name wait.us counts microseconds, but 1.5ms is compared as 0.0015, in seconds',
      10,
      15,
      '1500',
    ],
    ['body_kb >= 3MB', 'by its name body_kb counts kB, but 3MB is compared as 3000000, in bytes', 11, 14, '3000'],
    ['not (statsu = 500)', 'no event has a field statsu', 5, 11, 'status'],
  ])('%s', (text, message, start, end, suggestion) => {
    expect(conditionDoubts(text, known)).toEqual([{ message, start, end, ...(suggestion && { suggestion }) }]);
  });
});

describe('what may be meant', () => {
  test.each([
    '',
    'Source = Timetable tier = rest fleet = ferries',
    'source = time* severity >= warn severity = unset severity = err severity > 12',
    'took > 250ms took in ..2s status in 500..599 path = 2q path = "1 sec"',
    'time > -2h took > 2 timeout "sec"',
    'duration_ms > 200 took_s > 200ms sent_bytes > 2MB rooms > 3ms ms > 2s duration_ms > 0s body_kb > 200ms',
    'source = timetabel (',
  ])('%s', (text) => {
    expect(conditionDoubts(text, known)).toEqual([]);
  });
});

test('what is not known is not doubted', () => {
  expect(conditionDoubts('source = x tier = y fleet = z nothing = 1', {})).toEqual([]);
});
