import { mixed, object } from 'yup';
import { checkPlan } from '#core/plan/check.ts';
import { firstPlan, type PlanDocument } from '#core/plan/document.ts';
import type { PlanProblem } from '#core/plan/plan-problem.ts';
import type { RehearsalFindings } from '#core/rehearsal/rehearsal-answer.ts';
import type { Queryable } from '#store/database.ts';
import { type Draft, findRevision, latestRevision, lockDraft, plansAfter, readDraft } from '#store/plan/plans.ts';

/** A plan in force, and its revision. */
export interface LivePlan {
  readonly revision: number;
  readonly plan: PlanDocument;
}

/** A draft as it is stored. It may be wrong: people store what they are in the middle of. */
export interface StoredDraft {
  readonly plan: PlanDocument;
  readonly version: number;
  /** The revision that was live when it was begun. */
  readonly basedOn: number;
  /** What its last rehearsal found; null where it has changed since. */
  readonly rehearsal: RehearsalFindings | null;
}

/** A draft with what is wrong with it. */
export interface CheckedDraft extends StoredDraft {
  /** The plan where nothing is wrong. */
  readonly checked: PlanDocument | undefined;
  readonly problems: readonly PlanProblem[];
}

/** A plan as it is stored. That of a revision was checked before. */
export function parsePlan(text: string): PlanDocument {
  return object({ value: mixed<PlanDocument>().required() }).validateSync({ value: JSON.parse(text) }).value;
}

/** The live plan and its revision, as the store has it at this moment. */
export async function livePlan(tx: Queryable): Promise<LivePlan> {
  const latest = await latestRevision(tx);
  return latest ? { revision: latest.number, plan: parsePlan(latest.plan) } : { revision: 0, plan: firstPlan };
}

/** The plan of a revision; undefined where there is none of that number. */
export async function planOfRevision(tx: Queryable, revision: number): Promise<PlanDocument | undefined> {
  const stored = await findRevision(tx, revision);
  return stored && parsePlan(stored.plan);
}

/** The plan of a revision; for one that is not known the very first. */
export async function planOrFirst(tx: Queryable, revision: number): Promise<PlanDocument> {
  return (await planOfRevision(tx, revision)) ?? firstPlan;
}

/** Plans after a revision with when they were published (milliseconds), the earliest first, at most `most`. */
export async function publishedPlans(
  tx: Queryable,
  after: number,
  most: number,
): Promise<readonly { readonly number: number; readonly plan: PlanDocument; readonly publishedAt: number }[]> {
  return (await plansAfter(tx, after, most)).map((stored) => ({ ...stored, plan: parsePlan(stored.plan) }));
}

/** The draft with what is wrong with it; undefined without one. */
export async function checkedDraft(tx: Queryable): Promise<CheckedDraft | undefined> {
  const stored = await storedDraft(tx);
  if (!stored) return undefined;
  const checked = checkPlan(stored.plan);
  return checked.ok
    ? { ...stored, checked: checked.plan, problems: [] }
    : { ...stored, checked: undefined, problems: checked.problems };
}

/** The draft; undefined without one. */
export async function storedDraft(tx: Queryable): Promise<StoredDraft | undefined> {
  return parseDraft(await readDraft(tx));
}

/** The draft, locked until the end of the transaction; undefined without one. */
export async function lockedDraft(tx: Queryable): Promise<StoredDraft | undefined> {
  return parseDraft(await lockDraft(tx));
}

function parseDraft(stored: Draft | undefined): StoredDraft | undefined {
  if (!stored) return undefined;
  const { plan, version, basedOn, rehearsal } = stored;
  // The database library gives JSON as a text or as what it says.
  const findings: RehearsalFindings | null = typeof rehearsal === 'string' ? JSON.parse(rehearsal) : rehearsal;
  return { plan: parsePlan(plan), version, basedOn, rehearsal: findings ?? null };
}

/** The plan that is being designed: the draft, where there is one that is right, else the live plan. */
export async function designedPlan(tx: Queryable): Promise<{ readonly plan: PlanDocument; readonly isDraft: boolean }> {
  const draft = await checkedDraft(tx);
  if (draft?.checked) return { plan: draft.checked, isDraft: true };
  return { plan: (await livePlan(tx)).plan, isDraft: false };
}
