'use client';

import { useState } from 'react';
import { toast } from 'sonner';
import type { CostMonthAnswer, PricesAnswer } from '../../data/answers.ts';
import { ApiProblem, call, refreshAll, useQuestion } from '../../data/client.ts';
import { useRested } from '../../kit/use-rested.ts';

/** For how long typing rests before the month is computed anew, in milliseconds. */
const restTime = 600;

/** The price book as it is being written. */
export interface PriceBookEditor {
  /** The book that is saved. */
  readonly data: PricesAnswer | undefined;
  /** The book as it is written, as YAML. */
  readonly text: string;
  readonly edit: (text: string) => void;
  readonly problems: readonly ShownProblem[];
  /** What this month costs with it. */
  readonly month: CostMonthAnswer | undefined;
  /** Whether it is changed, right, and not being typed. */
  readonly canSave: boolean;
  readonly save: () => Promise<void>;
}

/** Edits the price book. */
export function usePriceBook(): PriceBookEditor {
  const { data } = useQuestion('prices', {});
  const [typed, write] = useState<string | undefined>();
  // What was there when writing began: another one may be saved meanwhile.
  const [base, setBase] = useState<number | null | undefined>();
  const edit = (next: string): void => {
    if (typed === undefined) setBase(data?.savedAt);
    write(next);
  };
  const text = typed ?? data?.text ?? '';
  const rested = useRested(text, restTime);
  const { data: month, error } = useQuestion('tryPrices', rested ? { text: rested } : null);
  const problems = problemsOf(error);
  const save = async (): Promise<void> => {
    try {
      const { savedAt } = await call('savePrices', { text, basedOn: base });
      // What was written while it was being saved stays, and is based on what was saved.
      setBase(savedAt);
      write((latest) => (latest === text ? undefined : latest));
      await refreshAll();
      toast('Price book saved.');
    } catch (cause) {
      toast.error(cause instanceof Error ? cause.message : 'The price book could not be saved.');
    }
  };
  const canSave = typed !== undefined && typed !== data?.text && problems.length === 0 && rested === text;
  return { data, text, edit, problems, month, canSave, save };
}

/** A problem of a price book, with its place in words. */
export interface ShownProblem {
  readonly path: string;
  readonly place: string;
  readonly message: string;
}

function problemsOf(error: ApiProblem | undefined): readonly ShownProblem[] {
  if (!error) return [];
  const problems: readonly {
    readonly path: string;
    readonly message: string;
    readonly line?: number;
    readonly column?: number;
  }[] = error instanceof ApiProblem ? (error.details.problems ?? []) : [];
  if (problems.length === 0) return [{ path: '', place: '', message: error.message }];
  return problems.map(({ path, message, line, column }) => ({
    path,
    message,
    place: line === undefined ? '' : `line ${line}, column ${column}: `,
  }));
}
