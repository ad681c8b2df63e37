import { checkPlan } from '#core/plan/check.ts';
import { firstPlan, type PlanDocument } from '#core/plan/document.ts';
import type { PlanProblem } from '#core/plan/plan-problem.ts';
import { type ShorterTier, shorterTiers } from '#core/plan/retention.ts';
import { runTests } from '#core/plan/run-tests.ts';
import { graceTime } from '#core/routing/retention.ts';
import type { StepResources } from '#core/steps/step.ts';
import type { Database, Queryable } from '#store/database.ts';
import { storedTiers } from '#store/events/segments.ts';
import { isRepeated } from '#store/fault.ts';
import { addRevision, removeDraft } from '#store/plan/plans.ts';
import { addTierGraces } from '#store/plan/tier-graces.ts';
import { type LivePlan, lockedDraft, livePlan as readLivePlan } from './stored-plans.ts';

export type PublishAnswer =
  | { readonly ok: true; readonly revision: number }
  | { readonly ok: false; readonly problems: readonly PlanProblem[] }
  /** Another one was published meanwhile, or the draft was changed: nothing was done. */
  | { readonly ok: false; readonly isStale: true };

/** A plan that is to be the next revision. */
export interface Publication {
  /** It has been checked. */
  readonly plan: PlanDocument;
  /** What the change is for. */
  readonly note: string;
  /** What the rehearsal before predicted; null where there was none. */
  readonly predicted: unknown;
  /** The revision that it takes the place of. */
  readonly basedOn: number;
  /** Of the draft that is published, and done with then. */
  readonly draftVersion?: number;
  /** Called inside the transaction that stores it. */
  readonly alongside?: (tx: Queryable) => Promise<void>;
}

/** Holds the live plan and takes up new revisions, its own and those that another engine published. */
export interface PlanHolder {
  readonly current: () => LivePlan;
  /** Publishes a plan as the next revision and puts it in force. */
  readonly publish: (publication: Publication) => Promise<PublishAnswer>;
  /** The tests of a checked plan's pipelines that fail: it cannot be published with them. */
  readonly failedTests: (plan: PlanDocument) => readonly PlanProblem[];
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
    const { revision, plan } = await readLivePlan(database.db);
    if (revision <= current.revision) return;
    // Another version of the product may have published it.
    const checked = checkPlan(plan);
    if (!checked.ok) throw new Error(`Revision ${revision} of the plan is not valid: ${checked.problems[0]?.message}`);
    current = { revision, plan: checked.plan };
  };
  const failedTests = (plan: PlanDocument): readonly PlanProblem[] => runTests(plan, resources());
  const publish = async (publication: Publication): Promise<PublishAnswer> => {
    const { plan } = publication;
    const failed = failedTests(plan);
    if (failed.length > 0) return { ok: false, problems: failed };
    await refresh();
    if (current.revision !== publication.basedOn) return { ok: false, isStale: true };
    const number = current.revision + 1;
    const shorter = current.revision === 0 ? [] : shorterTiers(current.plan, plan);
    try {
      await store(database, publication, { number, shorter });
    } catch (error) {
      if (error instanceof DraftGone || isRepeated(error, 'plan_revision')) return { ok: false, isStale: true };
      throw error;
    }
    if (current.revision < number) current = { revision: number, plan };
    return { ok: true, revision: number };
  };
  await refresh();
  const first = { plan: firstPlan, note: 'The first plan: everything is kept for a week', predicted: null, basedOn: 0 };
  // Of several engines that begin at once, one publishes it.
  if (current.revision === 0) await publish(first).then(refresh);
  return { current: () => current, publish, failedTests, refresh };
}

/** The draft that was to be published is another one by now. */
class DraftGone extends Error {
  override readonly name = 'DraftGone';
}

/** Stores a revision, and lets the stored events of tiers that it shortens stay for a while. */
async function store(
  database: Database,
  { plan, note, predicted, draftVersion, alongside }: Publication,
  { number, shorter }: { readonly number: number; readonly shorter: readonly ShorterTier[] },
): Promise<void> {
  const now = Date.now();
  await database.db.transaction(async (tx) => {
    await alongside?.(tx);
    if (draftVersion !== undefined) {
      if ((await lockedDraft(tx))?.version !== draftVersion) throw new DraftGone();
      await removeDraft(tx);
    }
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
  });
}
