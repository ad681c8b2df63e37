import { mixed, object } from 'yup';
import { checkPlan, type PlanProblem } from '#core/plan/check.ts';
import { diffPlans, type PlanChange } from '#core/plan/diff.ts';
import { firstPlan, type PlanDocument } from '#core/plan/document.ts';
import { type ShorterTier, shorterTiers } from '#core/plan/retention.ts';
import { type Draft, latestRevision, readDraft } from '#store/plans.ts';
import { contentBetween } from '#store/segments.ts';
import { store } from './store.ts';

/** The live plan and its revision. */
export async function livePlan(): Promise<{ readonly revision: number; readonly plan: PlanDocument }> {
  const latest = await latestRevision(store());
  return latest ? { revision: latest.number, plan: parsePlan(latest.plan) } : { revision: 0, plan: firstPlan };
}

/** A plan as it is stored: it was checked before. */
export function parsePlan(text: string): PlanDocument {
  return object({ value: mixed<PlanDocument>().required() }).validateSync({ value: JSON.parse(text) }).value;
}

/** The draft, what it changes, and what is wrong with it. */
export interface DraftView {
  readonly plan: PlanDocument;
  readonly basedOn: number;
  readonly changes: readonly PlanChange[];
  readonly problems: readonly PlanProblem[];
  readonly rehearsal: unknown;
  /** Stored events that go a day after it is published, by tier; only tiers of which some go. */
  readonly leaving: readonly Leaving[];
}

/** What goes of a tier that a plan shortens or takes out. Times in milliseconds. */
export interface Leaving extends ShorterTier {
  readonly events: number;
  /** Bytes as they arrived, and as they are stored. */
  readonly bytes: number;
  readonly stored: number;
  readonly from: number;
  readonly to: number;
}

/** What is stored now of the tiers that another plan shortens or takes out, and is older than it keeps. */
export async function leavingBetween(before: PlanDocument, after: PlanDocument): Promise<readonly Leaving[]> {
  const now = Date.now();
  const all = await Promise.all(
    shorterTiers(before, after).map(async (shorter) => ({
      ...shorter,
      ...(await contentBetween(store(), shorter.tier, { from: 0, before: now - shorter.keepsFor })),
    })),
  );
  return all.filter(({ events }) => events > 0);
}

/** The draft beside the live plan; undefined where there is none. */
export async function draftView(): Promise<DraftView | undefined> {
  const draft: Draft | undefined = await readDraft(store());
  if (!draft) return undefined;
  const plan = parsePlan(draft.plan);
  const live = await livePlan();
  const checked = checkPlan(plan);
  const rehearsal: unknown = typeof draft.rehearsal === 'string' ? JSON.parse(draft.rehearsal) : draft.rehearsal;
  return {
    plan,
    basedOn: draft.basedOn,
    changes: diffPlans(live.plan, plan),
    problems: checked.ok ? [] : checked.problems,
    rehearsal,
    // A draft that is being written may name no duration yet.
    leaving: checked.ok ? await leavingBetween(live.plan, checked.plan) : [],
  };
}
