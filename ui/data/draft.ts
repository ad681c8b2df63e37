'use client';

import { useEffect } from 'react';
import { toast } from 'sonner';
import type { DraftAnswer, PlanAnswer } from '#core/answers/plan.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { freeId } from '#core/plan/free-id.ts';
import { type Conflict, merge, type Side } from '#core/plan/merge.ts';
import type { PipelineDocument } from '#core/plan/parts/pipelines/pipelines-shape.ts';
import type { TierDocument } from '#core/plan/parts/tiers/tiers-shape.ts';
import type { RehearsalAnswer } from '#core/rehearsal/rehearsal-answer.ts';
import type { RehearsalSoFar } from '#core/rehearsal/so-far.ts';
import type { SurgeChoice } from '#core/rehearsal/surge.ts';
import { chooseSides } from './choices.ts';
import { ApiProblem, call, callInLines, refresh, refreshAll, showAnswer, useQuestion } from './client.ts';
import { editQueue } from './edit-queue.ts';

/** What a plan becomes. */
export type Edit = (before: PlanDocument) => PlanDocument;

/** What can be done with the draft, from wherever on the screen; each rejects with what stood in its way. */
export interface DraftTools {
  /** The plan to show and edit: the draft's, or the live one. Undefined until it has been read. */
  readonly plan: PlanDocument | undefined;
  readonly live: PlanDocument | undefined;
  /** What is shown now, for forms that are filled in from it. */
  readonly base: Base | undefined;
  readonly draft: DraftAnswer | undefined;
  /**
   * Makes a change in the draft; the draft begins with the first one. `on` is what a form was filled in from, where that may
   * be a while ago.
   */
  readonly change: (edit: Edit, on?: Base) => Promise<void>;
  /** Makes a change that is still being typed, once typing rests; the last one of a subject (a path in the plan) counts. */
  readonly changeTyped: (subject: string, edit: Edit) => Promise<void>;
  /** Makes a change that still rests at once. */
  readonly settle: () => Promise<void>;
  readonly discard: () => Promise<void>;
  /** Runs the draft beside the live plan over a span such as `24h`, with a surge where one is given; `onSoFar` receives first figures while it runs. */
  readonly rehearse: (
    asked: { readonly span: string; readonly surge?: SurgeChoice | undefined },
    signal: AbortSignal,
    onSoFar: (soFar: RehearsalSoFar) => void,
  ) => Promise<RehearsalAnswer>;
  /** Puts the draft on the live revision; false where someone chose not to. */
  readonly rebase: () => Promise<boolean>;
  /** Publishes with a note; `letGo` are the tiers of which stored events may go. */
  readonly publish: (note: string, letGo: readonly string[]) => Promise<void>;
}

/** How long typing rests before the draft is stored, in milliseconds. */
const restTime = 500;

/** A plan that edits are made on: the draft's, or (version 0) the live one. */
export interface Base {
  readonly plan: PlanDocument;
  readonly version: number;
  readonly basedOn: number;
}

/** What the screen shows: edits are made on that, whoever has changed the draft since. */
let shown: Base | undefined;

function baseOf(draft: DraftAnswer | null | undefined, live: PlanAnswer): Base {
  return draft ?? { plan: live.plan, version: 0, basedOn: live.revision };
}

async function readBase(): Promise<Base> {
  const [draft, live] = await Promise.all([call('draft', {}), call('plan', {})]);
  return baseOf(draft, live);
}

/** Others change the draft rarely; more often than this in a row, something is wrong. */
const mostMerges = 5;

/**
 * Stores a plan that was made from `base`. Where another one changed the draft meanwhile, both changes are put together;
 * where they touch the same thing, whoever is here chooses.
 */
async function store(base: Base, mine: PlanDocument, merges = 0): Promise<void> {
  try {
    await show(await call('saveDraft', { plan: mine, version: base.version, basedOn: base.basedOn }));
  } catch (error) {
    const isStale = error instanceof ApiProblem && error.details.draft !== undefined;
    if (!isStale || merges >= mostMerges) throw error;
    const theirs = await readBase();
    const merged = await mergeChoosing(base.plan, mine, theirs.plan);
    if (!merged) {
      await show(await call('draft', {}));
      throw new LeftOut();
    }
    await store(theirs, merged, merges + 1);
    toast('Someone else changed the draft at the same time. It has both changes.');
  }
}

/** Puts two changes together; undefined where they touch the same and nobody chose. */
async function mergeChoosing(
  base: PlanDocument,
  mine: PlanDocument,
  theirs: PlanDocument,
): Promise<PlanDocument | undefined> {
  const { merged, conflicts } = merge(base, mine, theirs);
  if (conflicts.length === 0) return merged;
  const choices = await chooseSides(conflicts, theirs);
  return choices && merge(base, mine, theirs, choices).merged;
}

/** Whoever changed the same as another one left their own change out. */
class LeftOut extends Error {
  override readonly name = 'LeftOut';
}

async function show(draft: DraftAnswer | null): Promise<void> {
  if (draft) shown = draft;
  else shown = baseOf(null, await call('plan', {}));
  await showAnswer('draft', draft);
}

const edits = editQueue<{ readonly edit: Edit; readonly on?: Base | undefined }>(async ({ edit, on }) => {
  try {
    const base = on ?? shown ?? (await readBase());
    await store(base, edit(base.plan));
  } catch (error) {
    if (error instanceof LeftOut) return;
    toast.error(
      `The draft could not be saved: ${error instanceof Error ? error.message : 'the server does not answer.'}`,
    );
    throw error;
  }
}, restTime);

/**
 * Puts the draft on the live revision, with what others published since; where both touch the same, whoever is here
 * chooses. Returns whether it is there now.
 */
async function rebase(): Promise<boolean> {
  await edits.settle();
  let choices: Readonly<Record<string, Side>> = {};
  for (;;) {
    try {
      await show(await call('rebaseDraft', { choices }));
      await refresh('plan');
      return true;
    } catch (error) {
      const conflicts: readonly Conflict[] = error instanceof ApiProblem ? (error.details.conflicts ?? []) : [];
      if (conflicts.length === 0) throw error;
      const { plan } = await call('plan', {});
      const sides = await chooseSides(conflicts, plan);
      if (!sides) return false;
      choices = { ...choices, ...sides };
    }
  }
}

const change: DraftTools['change'] = (edit, on) => edits.make({ edit, on });
const changeTyped: DraftTools['changeTyped'] = (subject, edit) => edits.makeRested(subject, { edit });

async function discard(): Promise<void> {
  // Whether what waits can be saved no longer matters.
  await edits.settle().catch(() => {});
  await call('discardDraft', {});
  await show(null);
  await refresh('discardedDrafts');
}

const rehearse: DraftTools['rehearse'] = async (asked, signal, onSoFar) => {
  await edits.settle();
  const result = await callInLines<'rehearseDraft', RehearsalSoFar>('rehearseDraft', asked, {
    signal,
    onProgress: onSoFar,
  });
  await refresh('draft');
  return result;
};

async function publish(note: string, letGo: readonly string[]): Promise<void> {
  await edits.settle();
  const version = shown && shown.version > 0 ? { version: shown.version } : {};
  await call('publishDraft', { note, letGo, ...version });
  await show(null);
  await refreshAll();
}

/** Reads and changes the draft, wherever on the screen. */
export function useDraft(): DraftTools {
  const { data: live } = useQuestion('plan', {}, 10_000);
  const { data } = useQuestion('draft', {}, 10_000);
  const draft = data ?? undefined;
  useEffect(() => {
    // While an edit is on its way, what it leaves behind will be shown.
    if (live && data !== undefined && !edits.isBusy()) shown = baseOf(data, live);
  }, [data, live]);
  // Until both are known nothing is shown that may be changed: changes are made on what was seen.
  const base = live && data !== undefined ? baseOf(data, live) : undefined;
  return {
    plan: base?.plan,
    live: live?.plan,
    draft,
    base,
    change,
    changeTyped,
    settle: edits.settle,
    discard,
    rehearse,
    rebase,
    publish,
  };
}

/** Has the browser ask before the page is left while the draft is still being saved. */
export function useUnsavedWarning(): void {
  useEffect(() => {
    const ask = (event: BeforeUnloadEvent): void => {
      if (!edits.isBusy()) return;
      void edits.settle().catch(() => {});
      event.preventDefault();
    };
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, []);
}

/** A plan with one pipeline changed. */
export function withPipeline(
  plan: PlanDocument,
  id: string,
  edit: (pipeline: PipelineDocument) => PipelineDocument,
): PlanDocument {
  return { ...plan, pipelines: plan.pipelines.map((pipeline) => (pipeline.id === id ? edit(pipeline) : pipeline)) };
}

/** A plan with one tier changed. */
export function withTier(plan: PlanDocument, id: string, edit: (tier: TierDocument) => TierDocument): PlanDocument {
  return { ...plan, tiers: plan.tiers.map((tier) => (tier.id === id ? edit(tier) : tier)) };
}

/**
 * Adds a pipeline to the draft as the last one and gives its id, which is made from the one it has. The id is chosen when
 * the draft is at hand, not from what a screen has read so far.
 */
export async function addPipeline(change: DraftTools['change'], pipeline: PipelineDocument): Promise<string> {
  let { id } = pipeline;
  await change((before) => {
    id = freeId(
      pipeline.id,
      before.pipelines.map((other) => other.id),
    );
    return { ...before, pipelines: [...before.pipelines, { ...pipeline, id }] };
  });
  return id;
}
