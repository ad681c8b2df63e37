'use client';

import { useCallback, useEffect, useRef, useState } from 'react';
import type { SearchAnswer, SearchProblem, SearchProgress } from '#core/answers/search.ts';
import type { FoundEvent } from '#core/search/found-event.ts';
import { ApiProblem } from '../../data/use-api.ts';

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

/** The newest lines of a search that still runs. */
export interface EarlyLines {
  readonly asked: SearchRequest;
  readonly events: readonly FoundEvent[];
}

interface Line {
  readonly progress?: SearchProgress;
  readonly result?: SearchAnswer;
  readonly problem?: string;
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
    if (text === undefined) return;
    const abort = new AbortController();
    controller.current = abort;
    const asked: SearchRequest = JSON.parse(text);
    setState((before) => ({ ...before, ...nothingYet, running: true, failed: undefined }));
    const tell = (progress: SearchProgress): void => {
      if (abort.signal.aborted) return;
      const { events } = progress;
      setState((before) => ({ ...before, progress, ...(events && { early: { asked, events } }) }));
    };
    void stream(text, abort.signal, tell).then(
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

async function stream(
  body: string,
  signal: AbortSignal,
  progress: (progress: SearchProgress) => void,
): Promise<SearchAnswer> {
  const answer = await fetch('/api/search', {
    method: 'POST',
    body,
    signal,
    headers: { 'content-type': 'application/json', accept: 'application/x-ndjson' },
  });
  if (!answer.ok || !answer.body) {
    const value = await answer.json();
    throw new ApiProblem(value.detail ?? 'The search failed.', value);
  }
  const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader();
  let rest = '';
  for (;;) {
    const { done, value } = await reader.read();
    if (done) throw new ApiProblem('The search ended without a result. Run it again.', {});
    const lines = (rest + value).split('\n');
    rest = lines.pop() ?? '';
    for (const line of lines) {
      const message: Line = JSON.parse(line);
      if (message.result) return message.result;
      if (message.problem) throw new ApiProblem(message.problem, {});
      if (message.progress) progress(message.progress);
    }
  }
}
