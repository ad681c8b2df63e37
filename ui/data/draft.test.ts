import { describe, expect, test } from 'vitest';
import { demoPlan } from '#demo/plan.ts';
import { addPipeline, freeId, withPipeline, withTier } from './draft.ts';

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

test('a new pipeline gets an id that is free in the draft itself, and comes last', async () => {
  const first = demoPlan.pipelines[0] as (typeof demoPlan.pipelines)[number];
  let draft = demoPlan;
  const id = await addPipeline(
    async (edit) => {
      draft = edit(draft);
    },
    { ...first, title: 'Second' },
  );
  expect(id).toBe(`${first.id}-2`);
  expect(draft.pipelines[0]).toBe(first);
  expect(draft.pipelines.at(-1)).toEqual({ ...first, id, title: 'Second' });
});

test('one pipeline or one tier changes; all else stays the very same', () => {
  const [first, second] = demoPlan.pipelines;
  const changed = withPipeline(demoPlan, first?.id ?? '', (pipeline) => ({ ...pipeline, title: 'Another' }));
  expect(changed.pipelines[0]).toEqual({ ...first, title: 'Another' });
  expect(changed.pipelines[1]).toBe(second);
  expect(changed.tiers).toBe(demoPlan.tiers);
  const tier = demoPlan.tiers[0];
  const kept = withTier(demoPlan, tier?.id ?? '', (own) => ({ ...own, keep: '3d' }));
  expect(kept.tiers[0]).toEqual({ ...tier, keep: '3d' });
  expect(kept.pipelines).toBe(demoPlan.pipelines);
  expect(withTier(demoPlan, 'nowhere', (own) => ({ ...own, keep: '3d' }))).toEqual(demoPlan);
});
