import type { DraftAnswer, Leaving } from '#core/answers/plan.ts';
import type { KnownNames } from '#core/conditions/doubts.ts';
import { daysOfMonth } from '#core/costs/retention/lifetime.ts';
import { diffPlans } from '#core/plan/diff.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { planDoubts } from '#core/plan/doubts/plan-doubts.ts';
import type { PlanProblem } from '#core/plan/plan-problem.ts';
import { shorterTiers } from '#core/plan/retention.ts';
import { findingsForm, type RehearsalAnswer, type RehearsalFindings } from '#core/rehearsal/rehearsal-answer.ts';
import { answerWithMoney } from '#core/rehearsal/rehearsal-money.ts';
import type { Database } from '#store/database.ts';
import { contentBetween } from '#store/events/segments.ts';
import { type CheckedDraft, checkedDraft, livePlan, planOrFirst } from '../../plan/stored-plans.ts';
import { Refusal } from '../refusal.ts';
import type { OperationServices } from '../services.ts';

/** What is stored now of the tiers that another plan shortens or takes out, and is older than it keeps. */
async function leavingBetween(
  database: Database,
  before: PlanDocument,
  after: PlanDocument,
): Promise<readonly Leaving[]> {
  const now = Date.now();
  const all = await Promise.all(
    shorterTiers(before, after).map(async (shorter) => ({
      ...shorter,
      ...(await contentBetween(database, shorter.tier, { from: 0, before: now - shorter.keepsFor })),
    })),
  );
  return all.filter(({ events }) => events > 0);
}

/** The draft beside the live plan; null where there is none. */
export async function draftAnswer(services: DraftServices): Promise<DraftAnswer | null> {
  const draft = await checkedDraft(services.database.db);
  return draft ? await answerOfDraft(services, draft) : null;
}

/** What is needed to answer with the draft. */
type DraftServices = Pick<OperationServices, 'database' | 'knownFields' | 'directory' | 'costs'>;

async function answerOfDraft(services: DraftServices, draft: CheckedDraft): Promise<DraftAnswer> {
  const { plan, version, basedOn, rehearsal, problems } = draft;
  const { live, base, behind, leaving } = await besideLivePlan(services.database, draft);
  return {
    ...{ plan, version, basedOn, problems, leaving, behind },
    changes: diffPlans(base, plan),
    doubts: planDoubts(plan, await knownNames(services)),
    // What was noted by another version of the product may be in another form.
    rehearsal:
      rehearsal?.form === findingsForm ? await withMonthOfMoney(services, rehearsal, { live, draft: plan }) : null,
  };
}

/** How a draft stands to the live plan. */
interface BesideLivePlan extends Pick<DraftAnswer, 'behind' | 'leaving'> {
  readonly live: PlanDocument;
  /** The plan that the draft was begun from. */
  readonly base: PlanDocument;
}

/** How a draft stands to the live plan: what was published since it was begun, and which stored events would go with it. */
export async function besideLivePlan(database: Database, draft: CheckedDraft): Promise<BesideLivePlan> {
  const { revision, plan: live } = await livePlan(database.db);
  const isBehind = draft.basedOn !== revision;
  const base = isBehind ? await planOrFirst(database.db, draft.basedOn) : live;
  return {
    ...{ live, base },
    behind: isBehind ? diffPlans(base, live) : [],
    // A draft that is being written may name no duration yet.
    leaving: draft.checked ? await leavingBetween(database, live, draft.checked) : [],
  };
}

/** The plan of a draft; refuses one that is wrong. */
export function rightPlan({ checked, problems }: Pick<CheckedDraft, 'checked' | 'problems'>): PlanDocument {
  if (!checked) throw wrongDraft(problems);
  return checked;
}

/** The refusal of a draft that is wrong. */
export function wrongDraft(problems: readonly PlanProblem[]): Refusal {
  return new Refusal(400, 'The draft is not valid', problems[0]?.message ?? '', { problems });
}

/** The names that there are outside of plans. */
export async function knownNames({
  knownFields,
  directory,
}: Pick<DraftServices, 'knownFields' | 'directory'>): Promise<KnownNames> {
  const fields = await knownFields.names(Date.now());
  return { fields, sources: directory.names, fleets: directory.fleetNames };
}

/** What a rehearsal of a draft found, as a month's money where it has a price. */
export async function withMonthOfMoney(
  { costs, directory }: Pick<OperationServices, 'costs' | 'directory'>,
  findings: RehearsalFindings,
  plans: { readonly live: PlanDocument; readonly draft: PlanDocument },
): Promise<RehearsalAnswer> {
  const now = Date.now();
  const views = findings.surge ? (await costs.month(now)).budgets : [];
  return answerWithMoney(findings, {
    prices: await costs.prices(now),
    plans,
    times: findings.span > 0 ? daysOfMonth : 1,
    month: { views, fleetsOf: (source) => directory.fleets.get(source) ?? [] },
  });
}
