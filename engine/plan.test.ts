import { afterEach, beforeEach, describe, expect, inject, test } from 'vitest';
import { firstPlan, type PlanDocument } from '#core/plan/document.ts';
import { noResources } from '#core/steps/step.ts';
import type { Database } from '#store/database.ts';
import { addRevision, listRevisions, readDraft, saveDraft } from '#store/plans.ts';
import { emptyDatabase } from '#store/testing/database.ts';
import { openPlan, type PlanHolder } from './plan.ts';

let database: Database;
let holder: PlanHolder;

beforeEach(async () => {
  database = await emptyDatabase(inject('mariadb'));
  holder = await openPlan(database, () => noResources);
});

afterEach(() => database.close());

const longer: PlanDocument = { ...firstPlan, tiers: [{ id: 'rest', title: 'Rest', keep: '30d' }] };

describe('the live plan', () => {
  test('begins with one that keeps everything, published once', async () => {
    expect(holder.current()).toEqual({ revision: 1, plan: firstPlan });
    expect((await openPlan(database, () => noResources)).current().revision).toBe(1);
    expect(await listRevisions(database)).toHaveLength(1);
  });

  test('is the one that was published last, and the draft is done with', async () => {
    await saveDraft(database, { plan: JSON.stringify(longer), basedOn: 1, changedAt: 1, rehearsal: null });
    expect(await holder.publish(longer, 'Keep longer', { kept: 1 })).toEqual({ ok: true, revision: 2 });
    expect(holder.current()).toEqual({ revision: 2, plan: longer });
    expect(await readDraft(database)).toBeUndefined();
    expect((await listRevisions(database))[0]).toMatchObject({ number: 2, note: 'Keep longer' });
  });

  test('that is wrong is not published, nor one whose own tests fail', async () => {
    const wrong = await holder.publish({ ...longer, tiers: [{ id: 'rest', title: 'Rest', keep: 'long' }] }, 'x', null);
    expect(wrong).toMatchObject({ ok: false, problems: [{ path: 'tiers[0].keep' }] });
    const tests = [{ name: 'a fare', input: 'fare 12', expect: { n: 13 } }];
    const steps = [{ extract: { from: 'body', template: 'fare {n:int}' } }];
    const failing = { ...longer, pipelines: [{ id: 'f', title: 'Fares', when: '', steps, tests }] };
    const answer = await holder.publish(failing, 'x', null);
    expect(answer.ok ? [] : answer.problems.map(({ message }) => message).join()).toContain('a fare');
    expect(holder.current().revision).toBe(1);
  });
});

describe('two engines', () => {
  test('take up what the other publishes, and number their revisions one after the other', async () => {
    const other = await openPlan(database, () => noResources);
    await other.publish(longer, 'From the other', null);
    expect(holder.current().revision).toBe(1);
    await holder.refresh();
    expect(holder.current()).toEqual({ revision: 2, plan: longer });
    const both = await Promise.all([holder.publish(firstPlan, 'a', null), other.publish(longer, 'b', null)]);
    expect(both.map((answer) => answer.ok && answer.revision).sort()).toEqual([3, 4]);
  });

  test('a stored revision that cannot be read leaves the plan in force that was', async () => {
    const broken = JSON.stringify({ plan: 1, pipelines: [], tiers: [{ id: 'x', title: 'X', keep: 'never' }] });
    await addRevision(database.db, { number: 2, plan: broken, note: '', publishedAt: 1, predicted: null });
    await expect(holder.refresh()).rejects.toThrow('Revision 2 of the plan is not valid');
    expect(holder.current().revision).toBe(1);
  });
});
