import { expect, test } from 'vitest';
import { textAt } from '../events/text-table.ts';
import type { DecidedShape } from './decided-shape.ts';
import { longerForms, secondParts, shorterForms, textsInForm } from './forms.ts';
import { countHoleValues } from './hole-values.ts';
import { KnownShapes } from './known-shapes.ts';
import { ShapeFamilies } from './shape-families.ts';
import { Shaper } from './shaper.ts';
import { batchOf, Learners } from './testing/learn.ts';
import { valueHole, wordHole } from './token.ts';

const names = [
  'anchor',
  'beacon',
  'compass',
  'davit',
  'ensign',
  'fender',
  'galley',
  'hawser',
  'jib',
  'keel',
  'lantern',
];

/** Lines of a tool that names packages with what they are built for, but not all of them. */
const lines = names.flatMap((name, i) => [
  `Unpacking lib${name}${i}:arm64 (1.${i}) on board`,
  `Unpacking ${name}-data (2.${i}) on board`,
  `Unpacking ${name}-tool:all (3.${i}) on board`,
]);

test('only holes that a mark joins have a shorter form, and only beside constant words', () => {
  expect(shorterForms(['at', ' ', wordHole, ':', valueHole])).toEqual([['at', ' ', valueHole]]);
  expect(shorterForms(['at', ' ', 'role', ':', valueHole])).toEqual([]);
  expect(shorterForms([valueHole, ':', valueHole])).toEqual([]);
  expect(longerForms(['at', ' ', wordHole])).toEqual([['at', ' ', valueHole, ':', valueHole]]);
  expect(secondParts(['a', ':', 'b', ' ', 'c', ':', ' ', wordHole, ':', valueHole])).toEqual([2, 9]);
});

test('texts of a line in another form are as many as the skeleton has places', () => {
  const skeleton = ['at', ' ', wordHole, ' ', valueHole];
  expect(textsInForm(skeleton, ['at', ' ', 'pier', ' ', '7'])).toEqual(['at', ' ', 'pier', ' ', '7']);
  expect(textsInForm(skeleton, ['at', ' ', 'pier', ':', '9', ' ', '7'])).toEqual(['at', ' ', 'pier:9', ' ', '7']);
  expect(textsInForm(skeleton, ['at', ' ', 'pier', ':', '9', ' ', '7', '!'])).toBeUndefined();
  expect(textsInForm(skeleton, ['at'])).toBeUndefined();
});

test('lines whose values have a second part or none are of one shape, whatever comes first', () => {
  const inReverse = [...lines].reverse();
  const grouped = [...lines].sort((a, b) => a.indexOf(':') - b.indexOf(':'));
  for (const order of [lines, inReverse, grouped]) {
    const learners = new Learners(1);
    for (let round = 0; round < 3; round++) learners.learn(order);
    const ids = learners.learn(order).map((id) => learners.current(id));
    expect(new Set(ids).size).toBe(1);
    const shape = learners.families.index.get(ids[0] ?? '');
    const values = countHoleValues(shape?.skeleton ?? [], lines);
    expect([...(values[0]?.values() ?? [])].reduce((sum, count) => sum + count, 0)).toBe(lines.length);
    expect(values[0]?.get('libanchor0:arm64')).toBe(1);
  }
});

test('names that always stand before the mark tell lines apart', () => {
  const learners = new Learners(1);
  const reported = ['gate', 'tide'].flatMap((key) => [1, 2, 3].map((i) => `level of ${key}:${i} was read`));
  for (let round = 0; round < 3; round++)
    learners.learn([...reported, 'level of 7 was read', 'level of gate was read']);
  expect(new Set(learners.learn(reported).map((id) => learners.current(id))).size).toBe(2);
});

test('other forms are found by who learns what was decided, and by a decider that is started anew', () => {
  const decided = new Map<string, DecidedShape>();
  const families = new ShapeFamilies();
  const known = new KnownShapes();
  for (let round = 0; round < 4; round++) {
    const shaper = new Shaper(known);
    shaper.begin();
    shaper.shaped(batchOf(lines));
    for (const fresh of shaper.takeNew()) {
      const { put, merged } = families.learn(fresh);
      known.learn([...put, ...merged]);
      for (const one of [...put, ...merged]) decided.set(one.id, one);
    }
  }
  const again = new ShapeFamilies(decided.values());
  const later = new KnownShapes();
  later.learn(decided.values());
  const shaper = new Shaper(later);
  shaper.begin();
  const unseen = ['Unpacking oar-data (9.1) on board', 'Unpacking libmast9:riscv64 (9.2) on board'];
  const { shape } = shaper.shaped(batchOf([...lines, ...unseen]));
  expect(shape?.table.count).toBe(1);
  expect(shaper.takeNew()).toEqual([]);
  const ids = (one: ShapeFamilies) => one.index.list().map(({ id }) => id);
  expect(ids(again).sort()).toEqual(ids(families).sort());
  expect(later.current(shape ? textAt(shape.table, 0) : '')).toBe(shape && textAt(shape.table, 0));
});
