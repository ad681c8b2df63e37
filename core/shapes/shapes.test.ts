import fc from 'fast-check';
import { expect, test } from 'vitest';
import { encode, textAt } from '../events/text-table.ts';
import { KnownShapes } from './known-shapes.ts';
import { LineScanner } from './line-scanner.ts';
import { mostShapes, ShapeFamilies } from './shape-families.ts';
import { otherShape, shapeId } from './shape-id.ts';
import { ShapeIndex } from './shape-index.ts';
import { shapeTable } from './shape-table.ts';
import { Shaper } from './shaper.ts';
import { corpus, groupingAccuracy } from './testing/corpus.ts';
import { batchOf, Learners } from './testing/learn.ts';
import { type Skeleton, valueHole, wordHole } from './token.ts';

const scanner = new LineScanner();

function scanned(line: string): { readonly id: string; readonly skeleton: Skeleton } {
  const bytes = encode(line);
  scanner.scan(bytes, 0, bytes.length);
  return { id: shapeId(scanner.high, scanner.low), skeleton: scanner.skeleton(bytes) };
}

/** A skeleton as people read it. */
function written(skeleton: Skeleton): string {
  return skeleton.map((token) => (token === valueHole ? '#' : token === wordHole ? '*' : token)).join('');
}

test.each([
  ['up for 12 days', 'up for # days'],
  ['  blanks\t at  both   ends  ', 'blanks at both ends'],
  ['first row\nsecond row', 'first row'],
  [
    '192.0.2.9 - - [24/Nov/2026:09:12:33 +0000] "GET /live HTTP/1.1" 200 17 "-" "probe/1.4"',
    '# # # [# #] "GET # #" # # "#" "#"',
  ],
  ['agent "Mozilla/5.0 (X11; Linux x86_64) Gecko/20100101"', 'agent "#"'],
  [
    'ts=2026-11-24T08:15:00Z level=debug msg="candidate scored" vessel="Grey Seal" cache=hit',
    'ts=# level=debug msg="candidate scored" vessel="#" cache=#',
  ],
  ['time 10:22:33 of 1,000 a:b', 'time # of # a:b'],
  ['mail from deck@skerry.example to https://www.skerry.example/x', 'mail from # to https:#'],
  ['a "quote that never ends 7', 'a "quote that never ends #'],
  ['say \\"no\\" and ""', 'say \\"no\\" and "#"'],
  ['boat to Gannet Bay, from Eilean Ruadh Pier', 'boat to Gannet Bay, from Eilean Ruadh Pier'],
  ['7,"Gannet Bay",rain,"rain, heavy"', '#,"#",rain,"#"'],
  ['["a","b"]', '["a","b"]'],
  ['tide-2,2026-01-15T11:59:02.000Z,1.724,7.1,88', '#,#,#,#,#'],
  ['', ''],
])('words, values, marks: %s', (line, skeleton) => {
  expect(written(scanned(line).skeleton)).toBe(skeleton);
});

test('a line that is longer than is looked at ends in whole words, and has a skeleton of its own beginning', () => {
  const long = 'word '.repeat(400);
  expect(scanned(long).id).toBe(scanned(`${long}and more`).id);
  expect(scanned(long).skeleton.length).toBeLessThan(500);
  expect(written(scanned('x '.repeat(400)).skeleton)).toMatch(/x #$/);
});

test('lines have the same id exactly where they have the same skeleton', () => {
  const piece = fc.constantFrom(
    'port',
    'Bay',
    'Storm',
    '7',
    '"',
    '=',
    ' ',
    '-',
    '/a',
    'level',
    ':',
    ',',
    '(',
    'é',
    '@',
    '\\',
    '\t',
  );
  const line = fc.array(piece, { maxLength: 14 }).map((pieces) => pieces.join(''));
  const ids = new Map<string, string>();
  const skeletons = new Map<string, string>();
  fc.assert(
    fc.property(line, (text) => {
      const { id, skeleton } = scanned(text);
      const key = JSON.stringify(skeleton);
      expect(ids.get(key) ?? id).toBe(id);
      expect(skeletons.get(id) ?? key).toBe(key);
      ids.set(key, id);
      skeletons.set(id, key);
    }),
    { numRuns: 5_000 },
  );
});

test('a shape is found by its constant words, the one with the fewest varying ones first', () => {
  const index = new ShapeIndex();
  index.put({ id: 'a', skeleton: ['go', ' ', wordHole] });
  index.put({ id: 'b', skeleton: ['go', ' ', 'home'] });
  index.put({ id: 'c', skeleton: [wordHole, ' ', wordHole] });
  expect(index.find(['go', ' ', 'home'])?.id).toBe('b');
  expect(index.find(['go', ' ', 'north'])?.id).toBe('a');
  expect(index.find(['go', ' ', valueHole])?.id).toBe('a');
  expect(index.find(['sail', ' ', 'north'])?.id).toBe('c');
  expect(index.find(['sail', ':', 'north'])).toBeUndefined();
  index.remove('a');
  expect(index.find(['go', ' ', 'north'])?.id).toBe('c');
  expect(index.covered([wordHole, ' ', wordHole]).map(({ id }) => id)).toEqual(['b', 'c']);
});

test('words of which many are met become a hole, telling words stay', () => {
  const learners = new Learners(1);
  const states = ['opened', 'closed', 'refused', 'retried'];
  const names = ['Anna', 'Bela', 'Cleo', 'Dora', 'Edna', 'Fina', 'Gerd', 'Hugo', 'Ines', 'Jens'];
  const lines = states.flatMap((state) => names.map((name) => `gate ${state} for ${name} at the pier`));
  const ids = new Set(learners.learn([...lines, ...lines]).map((id) => learners.current(id)));
  const shapes = learners.families.index.list().map(({ skeleton }) => written(skeleton));
  expect(ids.size).toBe(4);
  expect(shapes.sort()).toEqual(states.map((state) => `gate ${state} for * at the pier`).sort());
});

test('severities are told apart however many lines differ in nothing else', () => {
  const learners = new Learners(1);
  const lines = ['TRACE', 'DEBUG', 'INFO', 'WARN', 'ERROR', 'FATAL'].map(
    (word) => `${word} the gate of the pier is open`,
  );
  expect(new Set(learners.learn(lines).map((id) => learners.current(id))).size).toBe(6);
});

test('shapes of generated lines are found, the same by two threads', () => {
  const { lines, shapeOf } = corpus(60_000, 10, 50, 5);
  const learners = new Learners(2);
  const ids = learners.learn(lines);
  const current = ids.map((id) => learners.current(id));
  expect(groupingAccuracy(shapeOf, current)).toBeGreaterThan(0.97);
  expect(ids.map((id) => learners.current(id, 1))).toEqual(current);
});

test('who learns what was decided gives the same lines the same shapes, and tells of nothing new', () => {
  const { lines } = corpus(8_000, 2, 20, 3);
  const learners = new Learners(1);
  learners.learn(lines);
  const known = new KnownShapes();
  known.learn(learners.families.index.list());
  const shaper = new Shaper(known);
  shaper.begin();
  const { shape } = shaper.shaped(batchOf(lines));
  expect(shaper.takeNew()).toEqual([]);
  const ids = [...(shape?.codes ?? [])].map((code) => (shape ? textAt(shape.table, code) : ''));
  expect(ids.map((id) => learners.current(id))).toEqual(learners.learn(lines).map((id) => learners.current(id)));
});

test('a decider that is started anew goes on where the one before was', () => {
  const { lines } = corpus(8_000, 2, 20, 9);
  const one = new Learners(1);
  one.learn(lines);
  const again = new ShapeFamilies(one.families.index.list());
  expect(again.index.list()).toEqual(one.families.index.list());
  for (const { id, skeleton } of one.families.index.list())
    expect(again.learn({ id, skeleton })).toEqual({ put: [], merged: [] });
});

test('no more than 20,000 shapes are told apart; what comes beyond them is counted together', () => {
  const families = new ShapeFamilies();
  const known = new KnownShapes();
  for (let i = 0; i < mostShapes + 500; i++) {
    // Marks that no two lines share.
    const marks = i.toString(2).replaceAll('0', '(').replaceAll('1', ')');
    known.learn(families.learn({ id: `s${i}`, skeleton: [...marks] }).put);
  }
  expect(families.index.size).toBe(mostShapes);
  expect(known.isFull).toBe(true);
  const shaper = new Shaper(known);
  shaper.begin();
  const { shape } = shaper.shaped(batchOf(['a line (that) nobody [knows]']));
  expect(shape && textAt(shape.table, 0)).toBe(otherShape);
  expect(shaper.takeNew()).toEqual([]);
});

test('ids that were merged are followed to what they are now, also after further merging', () => {
  const known = new KnownShapes();
  const skeleton = ['x'];
  known.learn([
    { id: 'a', skeleton },
    { id: 'b', skeleton: [], into: 'a' },
    { id: 'c', skeleton: ['y'] },
    { id: 'a', skeleton: [], into: 'c' },
  ]);
  expect(known.current('b')).toBe('c');
  expect(known.mergedInto('c')).toEqual(['b', 'a']);
  expect(known.isDecided('b')).toBe(true);
  expect(known.isDecided('z')).toBe(false);
  expect(known.find(['y'])).toBe('c');
  expect(known.find(skeleton)).toBeUndefined();
});

test('events without a line have the shape of their fields, told apart by what happened', () => {
  const shaper = new Shaper(new KnownShapes());
  shaper.begin();
  const lines = [
    '{"event":"docked","n":1}',
    '{"n":2,"event":"docked"}',
    '{"event":"left","n":3}',
    '{"event":"docked"}',
  ];
  const { shape } = shaper.shaped(batchOf(lines, 'json'));
  expect([...(shape?.codes ?? [])]).toEqual([0, 0, 1, 2]);
  expect(shaper.takeNew().map(({ sample }) => sample)).toEqual(['event=docked n', 'event=left n', 'event=docked']);
});

test('a table of keys of 64 bits remembers what fits, and forgets all before it is full', () => {
  const table = shapeTable(100);
  for (let i = 0; i < 100; i++) table.set(i % 3, i * 7, i);
  for (let i = 0; i < 100; i++) expect(table.get(i % 3, i * 7)).toBe(i);
  expect(table.get(1, 2)).toBe(-1);
  table.set(9, 9, 1);
  expect(table.get(0, 0)).toBe(-1);
  expect(table.get(9, 9)).toBe(1);
});

test('names of several words are one word', () => {
  expect(scanned('boat to Gannet Bay, from Eilean Ruadh Pier').skeleton).toEqual([
    'boat',
    ' ',
    'to',
    ' ',
    'Gannet Bay',
    ',',
    ' ',
    'from',
    ' ',
    'Eilean Ruadh Pier',
  ]);
});
