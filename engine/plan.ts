import { checkPlan, type PlanProblem } from '#core/plan/check.ts';
import { firstPlan, type PlanDocument } from '#core/plan/document.ts';
import { runTests } from '#core/plan/run-tests.ts';
import type { StepResources } from '#core/steps/step.ts';
import { type Database, isDuplicate } from '#store/database.ts';
import { addRevision, findRevision, latestRevision, removeDraft } from '#store/plans.ts';

/** The plan that events are run through now. */
export interface LivePlan {
  readonly revision: number;
  readonly plan: PlanDocument;
}

export type PublishAnswer =
  | { readonly ok: true; readonly revision: number }
  | { readonly ok: false; readonly problems: readonly PlanProblem[] };

/** Holds the live plan and takes up new revisions, its own and those that another engine published. */
export interface PlanHolder {
  readonly current: () => LivePlan;
  /** Publishes a plan as the next revision and puts it in force; the draft is done with. */
  readonly publish: (plan: unknown, note: string, predicted: unknown) => Promise<PublishAnswer>;
  /** Looks for a revision published elsewhere. */
  readonly refresh: () => Promise<void>;
}

/**
 * Reads the live plan, or publishes the first one where there is none. `resources` are what the tests of pipelines look
 * values up in.
 */
export async function openPlan(database: Database, resources: () => StepResources): Promise<PlanHolder> {
  let current: LivePlan = { revision: 0, plan: firstPlan };
  const refresh = async (): Promise<void> => {
    const latest = await latestRevision(database);
    if (!latest || latest.number === current.revision) return;
    const checked = checkPlan(JSON.parse(latest.plan));
    if (!checked.ok)
      throw new Error(`Revision ${latest.number} of the plan is not valid: ${checked.problems[0]?.message}`);
    current = { revision: latest.number, plan: checked.plan };
  };
  const publish = async (plan: unknown, note: string, predicted: unknown): Promise<PublishAnswer> => {
    const checked = checkPlan(plan);
    if (!checked.ok) return checked;
    const failed = runTests(checked.plan, resources());
    if (failed.length > 0) return { ok: false, problems: failed };
    for (;;) {
      const number = ((await latestRevision(database))?.number ?? 0) + 1;
      try {
        await addRevision(database, {
          number,
          plan: JSON.stringify(checked.plan),
          note,
          publishedAt: Date.now(),
          predicted: predicted ?? null,
        });
      } catch (error) {
        if (isDuplicate(error) && (await findRevision(database, number))) continue;
        throw error;
      }
      await removeDraft(database);
      current = { revision: number, plan: checked.plan };
      return { ok: true, revision: number };
    }
  };
  await refresh();
  if (current.revision === 0) await publish(firstPlan, 'The first plan: everything is kept for a week', null);
  return { current: () => current, publish, refresh };
}
