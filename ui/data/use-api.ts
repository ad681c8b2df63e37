'use client';

import useSWR, { type SWRResponse } from 'swr';

/** An answer that says what went wrong. */
export class ApiProblem extends Error {
  constructor(
    message: string,
    readonly details: {
      readonly problems?: readonly { readonly path: string; readonly message: string }[];
      readonly problem?: SearchProblem;
    },
  ) {
    super(message);
  }
}

/** What is wrong with a condition or a summary, and where. */
export interface SearchProblem {
  readonly in: 'condition' | 'summary';
  readonly message: string;
  readonly start: number;
  readonly end: number;
  readonly suggestion?: string;
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
