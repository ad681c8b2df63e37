import { mixed, object } from 'yup';
import { checkPlan, type PlanProblem } from '#core/plan/check.ts';
import { diffPlans, type PlanChange } from '#core/plan/diff.ts';
import { firstPlan, type PlanDocument } from '#core/plan/document.ts';
import { type Draft, latestRevision, readDraft } from '#store/plans.ts';
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
  };
}
