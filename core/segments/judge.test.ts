import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { conditionOf } from '../conditions/condition.ts';
import { textColumn } from '../events/columns.ts';
import { arrival, batchOf } from '../testing/batch-of.ts';
import { decodeHeader } from './header.ts';
import { judge, type KnownSegment } from './judge.ts';
import { decodeSegment, encodeSegment, filterName, type SegmentLayout } from './segment.ts';

/** A judge of conditions on a segment of these events, and the conditions' own answer. */
function segmentOf(events: readonly object[], layout: SegmentLayout = 'columns') {
  const batch = batchOf(events, 'gates');
  const { facts, filters, header } = encodeSegment(batch, layout);
  const { statistics } = decodeHeader(header);
  const known: KnownSegment = { source: 'gates', tier: 'rest', ...facts, statistics };
  const asked: string[] = [];
  const context = { now: arrival, tier: 'rest', fleets: ['piers'] };
  return {
    asked,
    verdict: (text: string) =>
      judge(conditionOf(text).node, known, context, (column) => {
        const filter = filters.find(({ name }) => name === filterName(column));
        if (filter) asked.push(column);
        return filter?.data;
      }),
    mask: (text: string) => conditionOf(text).test(batch, context),
  };
}

const many = Array.from({ length: 600 }, (_, i) => ({
  time: new Date(arrival - i * 1_000).toISOString(),
  level: i % 10 === 0 ? 'error' : 'info',
  msg: `boarding ${i} of lane L${i % 7} went well`,
  pier: i % 5,
  order: 10_000 + i * 7,
  ticket: `T-${i * 13}`,
  lane: `L${i % 7}`,
  ...(i % 2 === 0 && { full: true }),
}));

describe('ruled out without a look at the events', () => {
  const { verdict } = segmentOf(many);
  test.each([
    'source = tides',
    'tier = low',
    'fleet = ferries',
    'severity = warn',
    'severity >= fatal',
    'time < -1d',
    'time > 2099-01-01',
    'pier > 4',
    'pier = 7',
    'pier in 8..12',
    'order = 10001',
    'order in (10001, 10002)',
    'ticket = T-1',
    'ticket in (T-1, T-2)',
    'lane = L9',
    'lane matches /^M/',
    'nothing = 1',
    'has nothing',
    'nothing != 1',
    'departed',
    '"boarding 99999 of"',
    'pier > 4 or lane = L9',
    'lane = L1 ticket = T-1',
    'not has pier',
    'not pier <= 4',
    'emitter = sail',
  ])('%s', (text) => {
    expect(verdict(text).may).toBe(false);
  });
});

describe('known to hold for all', () => {
  const { verdict } = segmentOf(many);
  test.each([
    '',
    'source = gates',
    'fleet = piers',
    'severity >= info',
    'pier >= 0',
    'pier in 0..4',
    'lane = L*',
    'has order',
    'not nothing = 1',
    'time > -1d',
    'has full or pier < 9',
  ])('%s', (text) => {
    expect(verdict(text)).toEqual({ may: true, mayNot: false });
  });
});

test('filters are asked for only where they tell', () => {
  const { verdict, asked } = segmentOf(many);
  for (const text of [
    'pier = 3',
    'order = 5',
    'lane = L1',
    'boarding*',
    'ticket = T-1*',
    'source = tides ticket = T-1',
  ])
    verdict(text);
  expect(asked).toEqual([]);
  verdict('ticket = T-1 boarding order = 10007');
  expect(asked).toEqual(['text:ticket']);
});

test('without statistics everything is possible but what follows from the origin', () => {
  const bare: KnownSegment = { source: 'gates', tier: 'rest', from: arrival, to: arrival, events: 3 };
  const may = (text: string): boolean => judge(conditionOf(text).node, bare, { now: arrival }, () => undefined).may;
  expect(may('pier = 4 departed severity = fatal')).toBe(true);
  expect(may('source = tides')).toBe(false);
});

const value = fc.oneof(
  fc.constantFrom('north', 'North', 'Färöer', 'färöer', '7', '07', '-0', 'K', 'K', '', '1e3', 'L-1'),
  fc.integer({ min: -3, max: 9 }),
  fc.constantFrom(0, -0, 1e300, 0.5, 1000),
  fc.boolean(),
);
const event = fc.record(
  {
    time: fc.integer({ min: 0, max: 200_000 }).map((age) => new Date(arrival - age).toISOString()),
    level: fc.constantFrom('info', 'error', 'warn', 'trace'),
    msg: fc.constantFrom('gate_7 open', 'GATE_7 Open, Färöer', 'open', 'x', 'reopened gate', ''),
    host: fc.constantFrom('a', 'B', ''),
    a: value,
    b: value,
    A: value,
  },
  { requiredKeys: ['time'] },
);
const name = fc.constantFrom('a', 'b', 'A', 'c', 'emitter', 'body');
const written = fc.constantFrom(
  'north',
  '"7"',
  '7',
  'n*',
  'färöer',
  'K',
  '0',
  '-1',
  '0.5',
  '1e3',
  '1000',
  'true',
  '"open"',
);
const leaf = fc.oneof(
  fc.tuple(name, fc.constantFrom('=', '!=', '<', '<=', '>', '>='), written).map((parts) => parts.join(' ')),
  fc.tuple(name, written, written).map(([field, a, b]) => `${field} in (${a}, ${b})`),
  fc.tuple(name, fc.integer({ min: -2, max: 5 })).map(([field, low]) => `${field} in ${low}..${low + 3}`),
  name.map((field) => `has ${field}`),
  name.map((field) => `${field} matches /^(n|7|o)/i`),
  fc.constantFrom('gate_7', 'open', 'ope*', '*open', '"n ope"', '"7 open, f"', 'Färöer', 'gate', 'g*te', 'reopened'),
  fc
    .tuple(fc.constantFrom('severity', 'time'), fc.constantFrom('=', '!=', '<', '<=', '>', '>='))
    .chain(([field, operator]) =>
      (field === 'time' ? fc.constantFrom('-1m', '-2m', 'now') : fc.constantFrom('warn', 'info', 'unset')).map(
        (wanted) => `${field} ${operator} ${wanted}`,
      ),
    ),
);
const condition = fc.letrec<{ node: string }>((tie) => ({
  node: fc.oneof(
    { maxDepth: 3 },
    leaf,
    fc.tuple(tie('node'), fc.constantFrom('and', 'or'), tie('node')).map(([a, how, b]) => `(${a} ${how} ${b})`),
    tie('node').map((a) => `not (${a})`),
  ),
})).node;

test('a verdict never contradicts the events', () => {
  fc.assert(
    fc.property(
      fc.array(event, { minLength: 1, maxLength: 40 }),
      fc.array(condition, { minLength: 1, maxLength: 8 }),
      fc.constantFrom<SegmentLayout>('columns', 'whole'),
      (events, texts, layout) => {
        const { verdict, mask } = segmentOf(events, layout);
        for (const text of texts) {
          const { may, mayNot } = verdict(text);
          const rows = mask(text);
          if (rows.includes(1)) expect([text, may]).toEqual([text, true]);
          if (rows.includes(0)) expect([text, mayNot]).toEqual([text, true]);
        }
      },
    ),
    { numRuns: 400 },
  );
});

test('shapes rule segments out by those that they have, under the ids that these have now', () => {
  const shaped = (ids: readonly string[]) => {
    const batch = { ...batchOf(ids.map((_, n) => ({ n }))), shape: textColumn(ids) };
    const { facts, parts, header } = encodeSegment(batch, 'columns');
    expect([
      ...(decodeSegment(
        'test',
        ids.length,
        parts.map(({ data }) => data),
      ).shape?.codes ?? []),
    ]).toHaveLength(ids.length);
    const known = { source: 'gates', tier: 'rest', ...facts, statistics: decodeHeader(header).statistics };
    const currentShape = (id: string): string => (id === 'old' ? 'new' : id);
    return (text: string) => {
      const { may, mayNot } = judge(conditionOf(text).node, known, { now: arrival, currentShape }, () => undefined);
      return [may, mayNot];
    };
  };
  const verdict = shaped(['old', 'a']);
  expect(verdict('shape = new')).toEqual([true, true]);
  expect(verdict('shape = b')).toEqual([false, true]);
  expect(shaped(['old', 'new'])('shape = old')).toEqual([true, false]);
  // Of many nothing is known.
  expect(shaped(Array.from({ length: 60 }, (_, i) => `s${i}`))('shape = b')).toEqual([true, true]);
});
