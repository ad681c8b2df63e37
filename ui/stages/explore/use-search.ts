'use client';

import { useCallback, useEffect, useRef, useState } from 'react';
import type { FoundEvent } from '#core/search/found-event.ts';
import type { SearchAnswer, SearchProblem, SearchProgress } from '../../data/answers.ts';
import { ApiProblem, callInLines } from '../../data/client.ts';

/** What is asked for; times in milliseconds. */
export interface SearchRequest {
  readonly condition: string;
  readonly from: number;
  readonly to: number;
  readonly show: string;
  /** A line template whose fields events have for this search alone; empty for none. */
  readonly with: string;
  readonly limit: number;
  readonly buckets: number;
  readonly fields: boolean;
}

export interface SearchState {
  readonly result: SearchAnswer | undefined;
  /** The request that `result` answers. */
  readonly answered: SearchRequest | undefined;
  /** How far the search that is running has come. */
  readonly progress: SearchProgress | undefined;
  /** What the running search has found first: the newest lines, while the rest is still counted. */
  readonly early: EarlyLines | undefined;
  readonly running: boolean;
  readonly failed: { readonly message: string; readonly problem?: SearchProblem } | undefined;
  readonly cancel: () => void;
}

/** Whether a search has ended and found nothing. */
export function isEmpty({ result, running }: SearchState): boolean {
  return result !== undefined && result.total === 0 && !running;
}

/** The newest lines of a search that still runs. */
export interface EarlyLines {
  readonly asked: SearchRequest;
  readonly events: readonly FoundEvent[];
}

const nothingYet = { progress: undefined, early: undefined };

/** Runs a search whenever the request changes; the one before is cancelled. */
export function useSearch(request: SearchRequest | undefined): SearchState {
  const [state, setState] = useState<Omit<SearchState, 'cancel'>>({
    result: undefined,
    answered: undefined,
    ...nothingYet,
    running: false,
    failed: undefined,
  });
  const controller = useRef<AbortController>(undefined);
  const text = request && JSON.stringify(request);
  useEffect(() => {
    if (text === undefined) {
      // The previous search was cancelled, and no new one starts.
      setState((before) => (before.running ? { ...before, ...nothingYet, running: false } : before));
      return;
    }
    const abort = new AbortController();
    controller.current = abort;
    const asked: SearchRequest = JSON.parse(text);
    setState((before) => ({ ...before, ...nothingYet, running: true, failed: undefined }));
    const tell = (progress: SearchProgress): void => {
      if (abort.signal.aborted) return;
      const { events } = progress;
      setState((before) => ({ ...before, progress, ...(events && { early: { asked, events } }) }));
    };
    void callInLines<'search', SearchProgress>('search', asked, { signal: abort.signal, onProgress: tell }).then(
      (result) => setState({ result, answered: asked, ...nothingYet, running: false, failed: undefined }),
      (error: Error) => {
        if (abort.signal.aborted) return;
        const problem = error instanceof ApiProblem ? error.details.problem : undefined;
        setState((before) => ({
          ...before,
          ...nothingYet,
          running: false,
          failed: { message: error.message, ...(problem && { problem }) },
        }));
      },
    );
    return () => abort.abort();
  }, [text]);
  const cancel = useCallback(() => {
    controller.current?.abort();
    setState((before) => ({ ...before, running: false }));
  }, []);
  return { ...state, cancel };
}
