import { checkPlan, type PlanProblem } from '#core/plan/check.ts';
import { firstPlan, type PlanDocument } from '#core/plan/document.ts';
import { graceTime, type ShorterTier, shorterTiers } from '#core/plan/retention.ts';
import { runTests } from '#core/plan/run-tests.ts';
import type { StepResources } from '#core/steps/step.ts';
import type { Database } from '#store/database.ts';
import { isRepeated } from '#store/fault.ts';
import { addRevision, latestRevision, removeDraft } from '#store/plans.ts';
import { storedTiers } from '#store/segments.ts';
import { addTierGraces } from '#store/tier-graces.ts';

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
    if (!latest || latest.number <= current.revision) return;
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
      await refresh();
      const number = current.revision + 1;
      const shorter = current.revision === 0 ? [] : shorterTiers(current.plan, checked.plan);
      try {
        await store(database, { number, plan: checked.plan, note, predicted, shorter });
      } catch (error) {
        if (isRepeated(error, 'plan_revision')) continue;
        throw error;
      }
      current = { revision: number, plan: checked.plan };
      return { ok: true, revision: number };
    }
  };
  await refresh();
  if (current.revision === 0) await publish(firstPlan, 'The first plan: everything is kept for a week', null);
  return { current: () => current, publish, refresh };
}

/** Stores a revision, and lets the stored events of tiers that it shortens stay for a while. */
async function store(
  database: Database,
  revision: {
    readonly number: number;
    readonly plan: PlanDocument;
    readonly note: string;
    readonly predicted: unknown;
    readonly shorter: readonly ShorterTier[];
  },
): Promise<void> {
  const { number, plan, note, predicted, shorter } = revision;
  const now = Date.now();
  await database.db.transaction(async (tx) => {
    await addRevision(tx, {
      number,
      plan: JSON.stringify(plan),
      note,
      publishedAt: now,
      predicted: predicted ?? null,
    });
    const stored = shorter.length > 0 ? await storedTiers(tx) : [];
    await addTierGraces(
      tx,
      shorter
        .filter(({ tier }) => stored.includes(tier))
        .map((tier) => ({ ...tier, revision: number, before: now, until: now + graceTime })),
    );
    await removeDraft(tx);
  });
}
