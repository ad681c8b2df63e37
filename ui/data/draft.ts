'use client';

import { useCallback } from 'react';
import { mutate } from 'swr';
import type { PlanProblem } from '#core/plan/check.ts';
import type { PlanChange } from '#core/plan/diff.ts';
import type { PipelineDocument, PlanDocument, TierDocument } from '#core/plan/document.ts';
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
}

const draftPath = '/api/plan/draft';
const planPath = '/api/plan';

export interface DraftTools {
  /** The plan to show and edit: the draft's, or the live one. Undefined until it has been read. */
  readonly plan: PlanDocument | undefined;
  readonly live: PlanDocument | undefined;
  readonly draft: Draft | undefined;
  /** Makes a change in the draft; the draft begins with the first one. */
  readonly change: (edit: (plan: PlanDocument) => PlanDocument) => Promise<void>;
  readonly discard: () => Promise<void>;
  readonly rehearse: (signal?: AbortSignal) => Promise<Rehearsal>;
  readonly publish: (note: string) => Promise<void>;
}

let edits: Promise<unknown> = Promise.resolve();

/** Reads and changes the draft, wherever on the screen. */
export function useDraft(): DraftTools {
  const { data: live } = useApi<{ readonly plan: PlanDocument; readonly revision: number }>(planPath);
  const { data: draft } = useApi<Draft | null>(draftPath, 10_000);
  const change = useCallback(async (edit: (plan: PlanDocument) => PlanDocument) => {
    // One edit after the other, each on what the one before left.
    const next = edits.then(async () => {
      const held = await callApi<Draft | null>(draftPath);
      const base = held?.plan ?? (await callApi<{ readonly plan: PlanDocument }>(planPath)).plan;
      const saved = await callApi<Draft | null>(draftPath, {
        method: 'PUT',
        body: JSON.stringify({ plan: edit(base) }),
      });
      await mutate(draftPath, saved, { revalidate: false });
    });
    edits = next.catch(() => {});
    await next;
  }, []);
  const discard = useCallback(async () => {
    await callApi(draftPath, { method: 'DELETE' });
    await mutate(draftPath, null, { revalidate: false });
  }, []);
  const rehearse = useCallback(async (signal?: AbortSignal) => {
    const result = await callApi<Rehearsal>(`${draftPath}/rehearsal`, { method: 'POST', ...(signal && { signal }) });
    await mutate(draftPath);
    return result;
  }, []);
  const publish = useCallback(async (note: string) => {
    await callApi(`${draftPath}/publish`, { method: 'POST', body: JSON.stringify({ note }) });
    await mutate(draftPath, null, { revalidate: false });
    await mutate(() => true);
  }, []);
  const held = draft ?? undefined;
  return { plan: held?.plan ?? live?.plan, live: live?.plan, draft: held, change, discard, rehearse, publish };
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
