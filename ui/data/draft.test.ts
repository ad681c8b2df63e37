import { expect, test } from 'vitest';
import { demoPlan } from '#demo/plan.ts';
import { addPipeline, withPipeline, withTier } from './draft.ts';

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
