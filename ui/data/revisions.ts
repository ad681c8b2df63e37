import type { PlanChange } from '#core/plan/diff.ts';

interface Amount {
  readonly events: number;
  readonly bytes: number;
}

/** A published plan: what it changed, what was predicted of it, and what was measured while it was live. */
export interface RevisionView {
  readonly number: number;
  readonly note: string;
  readonly publishedAt: number;
  readonly changes: readonly PlanChange[];
  readonly predicted: {
    readonly arrived?: Amount;
    readonly kept: { readonly live: Amount; readonly draft: Amount };
    readonly parsed: { readonly live: number; readonly draft: number };
  } | null;
  readonly measured: {
    readonly minutes: number;
    readonly arrived: Amount;
    readonly kept: Amount;
    readonly parsedShare: number;
  } | null;
}

export interface RevisionsAnswer {
  readonly revisions: readonly RevisionView[];
}
