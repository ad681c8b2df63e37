import { afterEach, beforeEach, describe, expect, inject, test } from 'vitest';
import { firstPlan, type PlanDocument } from '#core/plan/document.ts';
import { noResources } from '#core/steps/step.ts';
import type { Database } from '#store/database.ts';
import { addRevision, listRevisions, readDraft, saveDraft } from '#store/plan/plans.ts';
import { emptyDatabase } from '#store/testing/database.ts';
import { openPlan, type PlanHolder } from './live-plan.ts';

let database: Database;
let holder: PlanHolder;

beforeEach(async () => {
  database = await emptyDatabase(inject('mariadb'));
  holder = await openPlan(database, () => noResources);
});

afterEach(() => database.close());

const longer: PlanDocument = { ...firstPlan, tiers: [{ id: 'rest', title: 'Rest', keep: '30d' }] };

const publication = (plan: PlanDocument, basedOn: number) => ({
  ...{ plan, basedOn, note: 'a change', predicted: null },
});

describe('the live plan', () => {
  test('begins with one that keeps everything, published once', async () => {
    expect(holder.current()).toEqual({ revision: 1, plan: firstPlan });
    expect((await openPlan(database, () => noResources)).current().revision).toBe(1);
    expect(await listRevisions(database, 20)).toHaveLength(1);
  });

  test('is the one that was published last, and the draft is done with', async () => {
    const version = await saveDraft(database.db, {
      plan: JSON.stringify(longer),
      basedOn: 1,
      changedAt: 1,
      rehearsal: null,
    });
    expect(await holder.publish({ ...publication(longer, 1), predicted: { kept: 1 }, draftVersion: version })).toEqual({
      ok: true,
      revision: 2,
    });
    expect(holder.current()).toEqual({ revision: 2, plan: longer });
    expect(await readDraft(database.db)).toBeUndefined();
    expect((await listRevisions(database, 20))[0]).toMatchObject({ number: 2, note: 'a change' });
  });

  test('is not replaced by one whose own tests fail', async () => {
    const tests = [{ name: 'a fare', input: 'fare 12', expect: { n: 13 } }];
    const steps = [{ extract: { from: 'body', template: 'fare {n:int}' } }];
    const failing = { ...longer, pipelines: [{ id: 'f', title: 'Fares', when: '', steps, tests }] };
    const answer = await holder.publish(publication(failing, 1));
    expect('problems' in answer && answer.problems.map(({ message }) => message).join()).toContain('a fare');
    expect(holder.current().revision).toBe(1);
  });
});

describe('two engines', () => {
  test('take up what the other publishes, and number their revisions one after the other', async () => {
    const other = await openPlan(database, () => noResources);
    await other.publish(publication(longer, 1));
    expect(holder.current().revision).toBe(1);
    await holder.refresh();
    expect(holder.current()).toEqual({ revision: 2, plan: longer });
    const both = await Promise.all([holder, other].map((one) => one.publish(publication(firstPlan, 2))));
    // One is published; the other would take back what it has not seen.
    expect(both.filter(({ ok }) => ok)).toEqual([{ ok: true, revision: 3 }]);
    expect(both.filter(({ ok }) => !ok)).toEqual([{ ok: false, isStale: true }]);
    expect(await holder.publish(publication(longer, 1))).toEqual({ ok: false, isStale: true });
  });

  test('a stored revision that cannot be read leaves the plan in force that was', async () => {
    const broken = JSON.stringify({ plan: 1, pipelines: [], tiers: [{ id: 'x', title: 'X', keep: 'never' }] });
    await addRevision(database.db, { number: 2, plan: broken, note: '', publishedAt: 1, predicted: null });
    await expect(holder.refresh()).rejects.toThrow('Revision 2 of the plan is not valid');
    expect(holder.current().revision).toBe(1);
  });
});
