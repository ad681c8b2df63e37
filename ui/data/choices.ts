'use client';

import { useSyncExternalStore } from 'react';
import type { PlanDocument } from '#core/plan/document.ts';
import type { Conflict, Side } from '#core/plan/merge.ts';

/** Places where two people changed the same thing, for whoever is here to choose at. */
export interface Question {
  readonly conflicts: readonly Conflict[];
  /** The plan whose words the conflicts are put in. */
  readonly plan: PlanDocument;
  /** Which side counts at each, by its path; undefined: one's own change is left out. */
  readonly answer: (choices: Readonly<Record<string, Side>> | undefined) => void;
}

let open: Question | undefined;
const listeners = new Set<() => void>();

function set(question: Question | undefined): void {
  open = question;
  for (const listener of listeners) listener();
}

/** Asks whoever is here which side counts at some conflicts; undefined when they would rather leave their change out. */
export function chooseSides(
  conflicts: readonly Conflict[],
  plan: PlanDocument,
): Promise<Readonly<Record<string, Side>> | undefined> {
  return new Promise((resolve) => {
    set({
      conflicts,
      plan,
      answer: (choices) => {
        set(undefined);
        resolve(choices);
      },
    });
  });
}

/** The question that is to be answered now. */
export function useOpenQuestion(): Question | undefined {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => open,
    () => undefined,
  );
}
