import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { PlanDocument } from './document.ts';
import { isSame, merge } from './merge.ts';

const plan: PlanDocument = {
  plan: 1,
  pipelines: [
    { id: 'web', title: 'Web', when: 'source = web', steps: [{ 'drop-body': {} }, { 'set-time': { from: 'at' } }] },
    { id: 'gates', title: 'Gates', when: '', steps: [] },
  ],
  tiers: [
    {
      id: 'incidents',
      title: 'Incidents',
      when: 'severity >= error',
      keep: '30d',
      exclusions: [{ id: 'probes', title: 'Probes', when: 'path = /health', keep: 'none' }],
    },
    { id: 'rest', title: 'Rest', keep: '3d' },
  ],
};

/** The plan with one tier's fields changed. */
function withTier(id: string, fields: object): PlanDocument {
  return { ...plan, tiers: plan.tiers.map((tier) => (tier.id === id ? { ...tier, ...fields } : tier)) };
}

describe('two changes of a plan', () => {
  test('stand both where they do not touch', () => {
    const mine = withTier('incidents', { keep: '60d' });
    const theirs = withTier('incidents', {
      exclusions: [...(plan.tiers[0]?.exclusions ?? []), { id: 'pings', title: 'Pings', when: 'ping', keep: '1 in 9' }],
    });
    const { merged, conflicts } = merge(plan, mine, theirs);
    expect(conflicts).toEqual([]);
    expect(merged.tiers[0]?.keep).toBe('60d');
    expect(merged.tiers[0]?.exclusions?.map(({ id }) => id)).toEqual(['probes', 'pings']);
  });

  test('of the same thing are a conflict, at which someone chooses', () => {
    const mine = withTier('rest', { keep: '5d' });
    const theirs = withTier('rest', { keep: '1d' });
    const { merged, conflicts } = merge(plan, mine, theirs);
    expect(conflicts).toEqual([{ path: 'tiers/rest/keep', before: '3d', mine: '5d', theirs: '1d' }]);
    expect(merged).toEqual(theirs);
    expect(merge(plan, mine, theirs, { 'tiers/rest/keep': 'mine' })).toEqual({ merged: mine, conflicts: [] });
    expect(merge(plan, mine, theirs, { 'tiers/rest/keep': 'theirs' }).conflicts).toEqual([]);
    expect(merge(plan, mine, mine).conflicts).toEqual([]);
  });

  test('what one removes and the other changes is a conflict; what both remove is gone', () => {
    const without = { ...plan, tiers: plan.tiers.filter(({ id }) => id !== 'rest') };
    const changed = withTier('rest', { keep: '1d' });
    expect(merge(plan, without, changed).conflicts.map(({ path }) => path)).toEqual(['tiers/rest']);
    expect(merge(plan, without, changed, { 'tiers/rest': 'mine' }).merged).toEqual(without);
    expect(merge(plan, without, without).merged).toEqual(without);
    expect(merge(plan, without, plan).merged).toEqual(without);
  });

  test('what both add is behind what it was put behind, and an order counts as a whole', () => {
    const add = (id: string, place: number): PlanDocument => {
      const pipelines = [...plan.pipelines];
      pipelines.splice(place, 0, { id, title: id, when: '', steps: [] });
      return { ...plan, pipelines };
    };
    const ids = ({ pipelines }: PlanDocument) => pipelines.map(({ id }) => id);
    expect(ids(merge(plan, add('a', 0), add('b', 2)).merged)).toEqual(['a', 'web', 'gates', 'b']);
    const turned = { ...plan, pipelines: [...plan.pipelines].reverse() };
    expect(ids(merge(plan, turned, add('b', 2)).merged)).toEqual(['gates', 'b', 'web']);
    expect(ids(merge(plan, add('b', 2), turned).merged)).toEqual(['gates', 'b', 'web']);
  });

  test('steps are the same thing where they stand at the same place', () => {
    const steps = (first: object, second: object): PlanDocument => ({
      ...plan,
      pipelines: plan.pipelines.map((pipeline) =>
        pipeline.id === 'web' ? { ...pipeline, steps: [first, second] as typeof pipeline.steps } : pipeline,
      ),
    });
    const mine = steps({ 'drop-body': {}, when: 'a' }, { 'set-time': { from: 'at' } });
    const theirs = steps({ 'drop-body': {} }, { 'set-time': { from: 'started' } });
    const { merged, conflicts } = merge(plan, mine, theirs);
    expect(conflicts).toEqual([]);
    expect(merged.pipelines[0]?.steps).toEqual([{ 'drop-body': {}, when: 'a' }, { 'set-time': { from: 'started' } }]);
  });
});

test('nothing that only one side changed is lost, whatever it is', () => {
  const value = fc.letrec((tie) => ({
    any: fc.oneof({ depthSize: 'small' }, fc.constantFrom('x', 'y', 3), tie('list'), tie('record')),
    list: fc.uniqueArray(fc.record({ id: fc.constantFrom('a', 'b', 'c'), value: tie('any') }), {
      selector: ({ id }) => id,
    }),
    record: fc.dictionary(fc.constantFrom('p', 'q', 'r'), tie('any')),
  })).any;
  fc.assert(
    fc.property(value, value, (before, changed) => {
      expect(isSame(merge(before, changed, before).merged, changed)).toBe(true);
      expect(isSame(merge(before, before, changed).merged, changed)).toBe(true);
      expect(isSame(merge(before, changed, changed).merged, changed)).toBe(true);
    }),
  );
});
