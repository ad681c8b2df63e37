import { describe, expect, test } from 'vitest';
import { conditionOf } from '../conditions/condition.ts';
import { checkPlan } from '../plan/check.ts';
import { compilePlan } from '../plan/compile.ts';
import type { PlanDocument } from '../plan/document.ts';
import { arrival, batchOf } from '../testing/batch-of.ts';
import { answerOf } from './answer-of.ts';
import { mergeRehearsal, newRehearsal, rehearseBatch } from './rehearse.ts';

function compiled(plan: PlanDocument) {
  const checked = checkPlan(plan);
  if (!checked.ok) throw new Error(JSON.stringify(checked.problems));
  return compilePlan(checked.plan);
}

const live: PlanDocument = {
  plan: 1,
  pipelines: [{ id: 'p', title: 'P', when: '', steps: [{ convert: { field: 'lane', to: 'number' } }] }],
  tiers: [
    { id: 'faults', title: 'Faults', when: 'level = error', keep: '30d' },
    { id: 'rest', title: 'Rest', keep: '7d' },
  ],
};
const draft: PlanDocument = {
  plan: 1,
  pipelines: [{ id: 'p', title: 'P', when: '', steps: [{ rename: { from: 'pier', to: 'berth' } }] }],
  tiers: [
    { id: 'faults', title: 'Faults', when: 'level = error', keep: '30d' },
    { id: 'rest', title: 'Rest', keep: '7d', exclusions: [{ id: 'x', title: 'X', when: 'code = 7', keep: 'none' }] },
  ],
};
const events = Array.from({ length: 100 }, (_, i) => ({
  ...{ code: i % 10, pier: `p${i % 3}`, lane: String(i % 4), msg: `crane ${i}` },
  level: i % 10 === 3 ? 'error' : 'info',
}));
const readers = ['code = 7', 'level = error', 'tier = rest code > 5', 'code = 1'];

function rehearsed(parts: readonly (readonly object[])[], plans = { live, draft }) {
  const whole = newRehearsal();
  for (const part of parts) {
    const own = newRehearsal();
    const run = { live: compiled(plans.live), draft: compiled(plans.draft), now: arrival };
    rehearseBatch(own, { ...run, comparesFields: true, readers: readers.map(conditionOf) }, batchOf(part, 'cranes'));
    mergeRehearsal(whole, own);
  }
  const named = readers.map((name) => ({ kind: 'search' as const, name }));
  const basis = { span: 0, recent: { count: 0, sources: new Map() }, owners: {}, lineOf: () => '', readers: named };
  return answerOf(whole, { from: 0, to: 1 }, 0, basis);
}

describe('what a draft changes for those who read', () => {
  const answer = rehearsed([events.slice(0, 40), events.slice(40)]);

  test('who finds fewer of the kept events, those who lose most first; whoever finds the same is not told', () => {
    expect(answer.readers).toEqual([
      { kind: 'search', name: 'code = 7', live: 10, draft: 0 },
      { kind: 'search', name: 'tier = rest code > 5', live: 40, draft: 30 },
    ]);
  });

  test('fields that are lost, gained, or of another kind', () => {
    const of = (name: string) => answer.fields.find((field) => field.name === name);
    expect(of('pier')).toMatchObject({ live: { text: 100 }, draft: { text: 0 } });
    expect(of('berth')).toMatchObject({ live: { text: 0 }, draft: { text: 100 } });
    expect(of('lane')).toMatchObject({ live: { number: 100, text: 0 }, draft: { number: 0, text: 100 } });
    expect(answer.fields).toHaveLength(3);
  });

  test('some events side by side: where they went and go, and the fields that differ', () => {
    const moved = answer.changed.filter(({ draft: after }) => after.outcome === 'excluded');
    expect(moved).toHaveLength(2);
    expect(moved[0]).toMatchObject({
      source: 'cranes',
      live: { outcome: 'kept', tier: 'rest', fields: { lane: expect.any(Number), pier: expect.any(String) } },
      draft: { tier: 'rest', rule: 'x', fields: { berth: expect.any(String), lane: expect.any(String) } },
    });
    expect(
      answer.changed.some(({ live: before, draft: after }) => before.tier === after.tier && before.rule === after.rule),
    ).toBe(true);
  });

  test('where nothing changes nothing is told', () => {
    expect(rehearsed([events], { live, draft: live })).toMatchObject({ readers: [], fields: [], changed: [] });
  });
});
