import { mixed, object } from 'yup';
import type { DraftAnswer, Leaving, PlanAnswer } from '#core/answers/plan.ts';
import type { KnownNames } from '#core/conditions/doubts.ts';
import { daysOfMonth } from '#core/costs/retention/lifetime.ts';
import { checkPlan } from '#core/plan/check.ts';
import { diffPlans } from '#core/plan/diff.ts';
import { firstPlan, type PlanDocument } from '#core/plan/document.ts';
import { planDoubts } from '#core/plan/doubts/plan-doubts.ts';
import { shorterTiers } from '#core/plan/retention.ts';
import type { RehearsalAnswer, RehearsalFindings } from '#core/rehearsal/rehearsal-answer.ts';
import { answerWithMoney } from '#core/rehearsal/rehearsal-money.ts';
import type { Database, Queryable } from '#store/database.ts';
import { contentBetween } from '#store/events/segments.ts';
import { type Draft, findRevision, latestRevision, readDraft } from '#store/plan/plans.ts';
import { shownPrices } from '../../costs/shown-prices.ts';
import type { OperationServices } from '../services.ts';

/** A plan as it is stored: it was checked before. */
export function parsePlan(text: string): PlanDocument {
  return object({ value: mixed<PlanDocument>().required() }).validateSync({ value: JSON.parse(text) }).value;
}

/** The live plan and its revision, as the store has it at this moment. */
export async function livePlan(tx: Queryable): Promise<PlanAnswer> {
  const latest = await latestRevision(tx);
  return latest ? { revision: latest.number, plan: parsePlan(latest.plan) } : { revision: 0, plan: firstPlan };
}

/** The plan of a revision; the very first one stands for what is not known. */
export async function planOf(tx: Queryable, revision: number): Promise<PlanDocument> {
  const stored = await findRevision(tx, revision);
  return stored ? parsePlan(stored.plan) : firstPlan;
}

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
export async function draftAnswer(services: DraftSetting): Promise<DraftAnswer | null> {
  const draft = await readDraft(services.database.db);
  return draft ? await answerOfDraft(services, draft) : null;
}

/** What is needed to answer with the draft. */
type DraftSetting = Pick<OperationServices, 'database' | 'knownFields' | 'senders'>;

async function answerOfDraft(services: DraftSetting, draft: Draft): Promise<DraftAnswer> {
  const { database } = services;
  const plan = parsePlan(draft.plan);
  const live = await livePlan(database.db);
  const isBehind = draft.basedOn !== live.revision;
  const base = isBehind ? await planOf(database.db, draft.basedOn) : live.plan;
  const checked = checkPlan(plan);
  return {
    plan,
    version: draft.version,
    basedOn: draft.basedOn,
    changes: diffPlans(base, plan),
    problems: checked.ok ? [] : checked.problems,
    doubts: planDoubts(plan, await knownNames(services)),
    rehearsal: await rehearsalOf(database, draft.rehearsal, live.plan, plan),
    // A draft that is being written may name no duration yet.
    leaving: checked.ok ? await leavingBetween(database, live.plan, checked.plan) : [],
    behind: isBehind ? diffPlans(base, live.plan) : [],
  };
}

/** The names that there are outside of plans. */
export async function knownNames({ knownFields, senders }: Omit<DraftSetting, 'database'>): Promise<KnownNames> {
  const fields = await knownFields.names(Date.now());
  return { fields, sources: senders.names, fleets: senders.fleetNames };
}

/** The plan that is being designed: the draft, where there is one that is right, else the live plan. */
export async function designedPlan(
  database: Database,
): Promise<{ readonly plan: PlanDocument; readonly isDraft: boolean }> {
  const draft = await readDraft(database.db);
  const checked = draft && checkPlan(parsePlan(draft.plan));
  if (checked?.ok) return { plan: checked.plan, isDraft: true };
  return { plan: (await livePlan(database.db)).plan, isDraft: false };
}

/** What a rehearsal of a draft found, as a month's money where it has a price. */
export async function withMonthOfMoney(
  database: Database,
  findings: RehearsalFindings,
  plans: { readonly live: PlanDocument; readonly draft: PlanDocument },
): Promise<RehearsalAnswer> {
  return answerWithMoney(findings, await shownPrices(database, Date.now()), plans, daysOfMonth);
}

/** A rehearsal as it was noted with a draft; null where there is none, or it was noted in another form than now. */
async function rehearsalOf(
  database: Database,
  stored: unknown,
  live: PlanDocument,
  draft: PlanDocument,
): Promise<RehearsalAnswer | null> {
  const findings = findingsOf(stored);
  return findings?.flows ? await withMonthOfMoney(database, findings, { live, draft }) : null;
}

/** What was noted of a rehearsal; written by the engine. */
export function findingsOf(stored: unknown): RehearsalFindings | null {
  const value: RehearsalFindings | null = typeof stored === 'string' ? JSON.parse(stored) : stored;
  return value ?? null;
}
