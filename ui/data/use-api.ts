'use client';

import useSWR, { type SWRResponse } from 'swr';
import type { DraftAnswer } from '#core/answers/plan.ts';
import type { SearchProblem } from '#core/answers/search.ts';
import type { InputProblem } from '#core/input/input-problem.ts';
import type { Conflict } from '#core/plan/merge.ts';

/** An answer that says what went wrong. */
export class ApiProblem extends Error {
  constructor(
    message: string,
    readonly details: {
      readonly status?: number;
      readonly problems?: readonly InputProblem[];
      readonly problem?: SearchProblem;
      /** With a refusal of a change of the draft: the draft as it is now. */
      readonly draft?: DraftAnswer | null;
      /** With a refusal of a rebase. */
      readonly conflicts?: readonly Conflict[];
    },
  ) {
    super(message);
  }
}

/** Asks the API; throws {@link ApiProblem} with the sentence of the answer when it says no. */
export async function callApi<T>(path: string, options: RequestInit = {}): Promise<T> {
  const headers = options.body ? { 'content-type': 'application/json' } : {};
  const answer = await fetch(path, { ...options, headers: { ...headers, ...options.headers } });
  const value = await answer.json();
  if (!answer.ok) throw new ApiProblem(value.detail ?? value.title ?? 'The request failed.', value);
  return value;
}

/** Keeps an answer of the API up to date, asking again every `every` milliseconds (0: only when told to). */
export function useApi<T>(path: string | null, every = 0): SWRResponse<T, ApiProblem> {
  return useSWR<T, ApiProblem>(path, (key: string) => callApi<T>(key), {
    refreshInterval: every,
    keepPreviousData: true,
    revalidateOnFocus: false,
  });
}

/** The answer of the API to a question with a body; asked once for each body, null asks nothing. */
export function useAnswer<T>(path: string, question: object | null): SWRResponse<T, ApiProblem> {
  const key = question && ([path, JSON.stringify(question)] as const);
  return useSWR<T, ApiProblem, readonly [string, string] | null>(
    key,
    ([to, body]: readonly [string, string]) => callApi<T>(to, { method: 'POST', body }),
    { keepPreviousData: true, revalidateOnFocus: false, revalidateIfStale: false },
  );
}
