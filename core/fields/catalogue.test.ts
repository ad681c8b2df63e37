import { expect, test } from 'vitest';
import { firstPlan } from '../plan/document.ts';
import { fieldUses } from '../plan/field-uses.ts';
import { batchOf } from '../testing/batch-of.ts';
import { addToCatalogue, catalogueFields, mergeCatalogue, newCatalogue } from './catalogue.ts';

test('fields are listed by weight, with types, distinct values, samples and sources; parts merge to the same', () => {
  const first = batchOf(
    [
      { a: 'xxxxxxxxxx', n: 1 },
      { a: 'yyyyyyyyyy', n: 2 },
    ],
    'one',
  );
  const second = batchOf([{ n: 'text', f: true }], 'two');
  const whole = newCatalogue();
  addToCatalogue(whole, first);
  addToCatalogue(whole, { ...second, weight: second.weight.map(() => 10) });
  const merged = newCatalogue();
  for (const batch of [first, { ...second, weight: second.weight.map(() => 10) }]) {
    const part = newCatalogue();
    addToCatalogue(part, batch);
    mergeCatalogue(merged, part);
  }
  expect(catalogueFields(merged)).toEqual(catalogueFields(whole));
  expect(whole.events).toBe(12);
  const [heaviest, a, f] = catalogueFields(whole);
  expect(heaviest).toMatchObject({ name: 'n', types: { number: 2, text: 10, flag: 0 }, bytes: 56, distinct: 3 });
  expect(heaviest?.sources.map(([source]) => source)).toEqual(['two', 'one']);
  expect(a).toMatchObject({ name: 'a', bytes: 20, samples: ['xxxxxxxxxx', 'yyyyyyyyyy'] });
  expect(f).toMatchObject({ name: 'f', types: { flag: 10 } });
});

test('makers and readers of fields are found in pipelines, choices, tiers and exclusions', () => {
  const { makers, readers } = fieldUses({
    ...firstPlan,
    pipelines: [
      {
        id: 'p',
        title: 'P',
        when: 'kind = a',
        steps: [
          { extract: { from: 'body', template: '{x:int} {}' } },
          { choose: { branches: [{ when: 'x > 1', steps: [{ rename: { from: 'x', to: 'y' } }] }] } },
        ],
      },
    ],
    tiers: [
      {
        id: 't',
        title: 'T',
        when: 'y = 2',
        keep: '1d',
        exclusions: [{ id: 'e', title: 'E', when: 'z = 1', keep: '1 in 2', by: 'user' }],
      },
    ],
  });
  expect(makers.map(({ field, at }) => [field, at])).toEqual([
    ['x', 'p/1'],
    ['y', 'p/2'],
  ]);
  expect(readers.map(({ field, at }) => [field, at])).toEqual([
    ['kind', 'p'],
    ['body', 'p/1'],
    ['x', 'p/2'],
    ['x', 'p/2'],
    ['y', 't'],
    ['z', 't/e'],
    ['user', 't/e'],
  ]);
});
