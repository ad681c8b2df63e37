'use client';

import { useCallback, useEffect, useState } from 'react';
import type { ArrivalsFrame } from '#core/answers/arrivals.ts';
import { ApiProblem } from '../../../data/use-api.ts';
import { emptyFeed, type Feed, pausedFeed, resumedFeed, withFrame } from './feed.ts';

/** Views of what comes in, side by side. */
export interface Arrivals {
  readonly feeds: readonly Feed[];
  /** The least share of events that an engine looks at. */
  readonly lookedAt: number;
  readonly failed: string | undefined;
  readonly pause: (view: number) => void;
  readonly resume: (view: number) => void;
}

/** After which time the stream is asked for again when it ended, in milliseconds. */
const againAfter = 2_000;
/** Marks of a view by a choice of events; a frame is told by what stands behind this. */
const dataMark = 'data: ';

/** Follows what comes in by up to three conditions; nothing while there are none. */
export function useArrivals(conditions: readonly string[]): Arrivals {
  const asked = JSON.stringify(conditions);
  const [state, setState] = useState<Pick<Arrivals, 'feeds' | 'lookedAt' | 'failed'>>(begun(conditions));
  useEffect(() => {
    const views: readonly string[] = JSON.parse(asked);
    setState(begun(views));
    if (views.length === 0) return;
    const abort = new AbortController();
    const take = (frames: readonly ArrivalsFrame[]): void => {
      if (abort.signal.aborted) return;
      setState(({ feeds }) => {
        const now = Date.now();
        const next = frames.reduce(
          (before, frame) => before.map((feed, i) => (frame.views[i] ? withFrame(feed, frame.views[i], now) : feed)),
          feeds,
        );
        return { feeds: next, lookedAt: Math.min(...frames.map(({ lookedAt }) => lookedAt)), failed: undefined };
      });
    };
    void follow(views, abort.signal, take, (failed) => setState((before) => ({ ...before, failed })));
    return () => abort.abort();
  }, [asked]);
  const change = useCallback((view: number, to: (feed: Feed) => Feed): void => {
    setState((before) => ({ ...before, feeds: before.feeds.map((feed, i) => (i === view ? to(feed) : feed)) }));
  }, []);
  return {
    ...state,
    pause: useCallback((view: number) => change(view, pausedFeed), [change]),
    resume: useCallback((view: number) => change(view, resumedFeed), [change]),
  };
}

function begun(conditions: readonly string[]): Pick<Arrivals, 'feeds' | 'lookedAt' | 'failed'> {
  return { feeds: conditions.map(() => emptyFeed), lookedAt: 1, failed: undefined };
}

/** Reads the stream, again and again where it ends, until nobody follows it. */
async function follow(
  conditions: readonly string[],
  signal: AbortSignal,
  take: (frames: readonly ArrivalsFrame[]) => void,
  fail: (reason: string) => void,
): Promise<void> {
  const names = ['condition', 'condition2', 'condition3'];
  const query = new URLSearchParams(conditions.map((condition, i) => [names[i] as string, condition]));
  while (!signal.aborted) {
    try {
      await read(`/api/arrivals?${query}`, signal, take);
    } catch (error) {
      if (signal.aborted) return;
      fail(error instanceof ApiProblem ? error.message : 'Nothing is heard of the engine; it is asked again.');
      // A condition that is wrong stays wrong.
      if (error instanceof ApiProblem && error.details.problems) return;
    }
    await new Promise((resolve) => setTimeout(resolve, againAfter));
  }
}

async function read(
  address: string,
  signal: AbortSignal,
  take: (frames: readonly ArrivalsFrame[]) => void,
): Promise<void> {
  const answer = await fetch(address, { signal, headers: { accept: 'text/event-stream' } });
  if (!answer.ok || !answer.body) {
    const value = await answer.json();
    throw new ApiProblem(value.detail ?? 'Arrivals cannot be shown.', value);
  }
  const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader();
  let rest = '';
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return;
    const events = (rest + value).split('\n\n');
    rest = events.pop() ?? '';
    const frames = events.map((event): ArrivalsFrame => JSON.parse(event.slice(dataMark.length)));
    if (frames.length > 0) take(frames);
  }
}
