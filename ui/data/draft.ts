'use client';

import { useEffect } from 'react';
import { toast } from 'sonner';
import { mutate } from 'swr';
import type { PlanProblem } from '#core/plan/check.ts';
import type { PlanChange } from '#core/plan/diff.ts';
import type { PipelineDocument, PlanDocument, TierDocument } from '#core/plan/document.ts';
import { type Edit, editQueue } from './edit-queue.ts';
import type { Leaving } from './leaving.ts';
import { callApi, useApi } from './use-api.ts';

interface Amount {
  readonly events: number;
  readonly bytes: number;
}

interface Compared {
  readonly id: string;
  readonly live: Amount;
  readonly draft: Amount;
}

/** What a rehearsal found: draft beside live over the tape, a day of traffic. */
export interface Rehearsal {
  readonly at: number;
  readonly taped: number;
  readonly arrived: Amount;
  readonly tiers: readonly Compared[];
  readonly outcomes: readonly Compared[];
  readonly rules: readonly Compared[];
  readonly sources: readonly (Compared & { readonly liveParsed: number; readonly draftParsed: number })[];
  readonly parsed: { readonly live: number; readonly draft: number };
  readonly kept: { readonly live: Amount; readonly draft: Amount };
  readonly error: number;
  readonly failures: { readonly live: readonly [string, number][]; readonly draft: readonly [string, number][] };
  readonly tookMs: number;
}

/** The draft as the API tells it. */
export interface Draft {
  readonly plan: PlanDocument;
  readonly basedOn: number;
  readonly changes: readonly PlanChange[];
  readonly problems: readonly PlanProblem[];
  readonly rehearsal: Rehearsal | null;
  /** Stored events that go a day after it is published. */
  readonly leaving: readonly Leaving[];
}

const draftPath = '/api/plan/draft';
const planPath = '/api/plan';

/** What can be done with the draft, from wherever on the screen; each rejects with what stood in its way. */
export interface DraftTools {
  /** The plan to show and edit: the draft's, or the live one. Undefined until it has been read. */
  readonly plan: PlanDocument | undefined;
  readonly live: PlanDocument | undefined;
  readonly draft: Draft | undefined;
  /** Makes a change in the draft; the draft begins with the first one. */
  readonly change: (edit: Edit<PlanDocument>) => Promise<void>;
  /** Makes a change that is still being typed, once typing rests; the last one of a subject (a path in the plan) counts. */
  readonly changeTyped: (subject: string, edit: Edit<PlanDocument>) => Promise<void>;
  /** Makes a change that still rests at once. */
  readonly settle: () => Promise<void>;
  readonly discard: () => Promise<void>;
  readonly rehearse: (signal?: AbortSignal) => Promise<Rehearsal>;
  /** Publishes with a note; `letGo` are the tiers of which stored events may go. */
  readonly publish: (note: string, letGo: readonly string[]) => Promise<void>;
}

/** How long typing rests before the draft is stored, in milliseconds. */
const restTime = 500;

const edits = editQueue<PlanDocument>(async (edit) => {
  try {
    const held = await callApi<Draft | null>(draftPath);
    const base = held?.plan ?? (await callApi<{ readonly plan: PlanDocument }>(planPath)).plan;
    const saved = await callApi<Draft | null>(draftPath, { method: 'PUT', body: JSON.stringify({ plan: edit(base) }) });
    await mutate(draftPath, saved, { revalidate: false });
  } catch (error) {
    toast.error(`The draft could not be saved: ${error instanceof Error ? error.message : 'the application is away.'}`);
    throw error;
  }
}, restTime);

async function discard(): Promise<void> {
  // Whether what waits can be saved no longer matters.
  await edits.settle().catch(() => {});
  await callApi(draftPath, { method: 'DELETE' });
  await mutate(draftPath, null, { revalidate: false });
  await mutate('/api/plan/discarded');
}

async function rehearse(signal?: AbortSignal): Promise<Rehearsal> {
  await edits.settle();
  const result = await callApi<Rehearsal>(`${draftPath}/rehearsal`, { method: 'POST', ...(signal && { signal }) });
  await mutate(draftPath);
  return result;
}

async function publish(note: string, letGo: readonly string[]): Promise<void> {
  await edits.settle();
  await callApi(`${draftPath}/publish`, { method: 'POST', body: JSON.stringify({ note, letGo }) });
  await mutate(draftPath, null, { revalidate: false });
  await mutate(() => true);
}

/** Reads and changes the draft, wherever on the screen. */
export function useDraft(): DraftTools {
  const { data: live } = useApi<{ readonly plan: PlanDocument; readonly revision: number }>(planPath);
  const { data } = useApi<Draft | null>(draftPath, 10_000);
  const draft = data ?? undefined;
  return {
    plan: draft?.plan ?? live?.plan,
    live: live?.plan,
    draft,
    change: edits.make,
    changeTyped: edits.makeRested,
    settle: edits.settle,
    discard,
    rehearse,
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

/** An id made from a title that none of the others has. */
export function freeId(title: string, taken: readonly string[]): string {
  const base =
    title
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '')
      .slice(0, 50) || 'unnamed';
  if (!taken.includes(base)) return base;
  let n = 2;
  while (taken.includes(`${base}-${n}`)) n++;
  return `${base}-${n}`;
}
