'use client';

import { useEffect, useRef, useState } from 'react';
import useSWR from 'swr';
import type { OperationName } from '#core/operations/index.ts';
import { type AnswerOf, type ApiProblem, callInLines, type GivenTo } from './client.ts';

/** A question whose first answers come before the last one. */
export interface FollowedAnswer<Name extends OperationName> {
  /** The best answer so far. */
  readonly answer: AnswerOf<Name> | undefined;
  /** Whether a better one is on its way. */
  readonly isAsking: boolean;
  readonly error: ApiProblem | undefined;
  readonly askAgain: () => void;
}

/** Asks a question and shows its answers as they become better; `null` asks nothing. The last question is cancelled by another one. */
export function useFollowedQuestion<Name extends OperationName>(
  name: Name,
  given: GivenTo<Name> | null,
): FollowedAnswer<Name> {
  const text = given && JSON.stringify(given);
  const running = useRef<AbortController>(undefined);
  const [early, setEarly] = useState<{ readonly text: string; readonly answer: AnswerOf<Name> } | undefined>();
  const { data, error, isValidating, mutate } = useSWR<AnswerOf<Name>, ApiProblem>(
    text === null ? null : [name, 'followed', text],
    async () => {
      const abort = new AbortController();
      running.current = abort;
      setEarly(undefined);
      return await callInLines<Name, AnswerOf<Name>>(name, JSON.parse(text ?? '{}'), {
        signal: abort.signal,
        onProgress: (answer) => {
          if (!abort.signal.aborted) setEarly({ text: text ?? '', answer });
        },
      });
    },
    // A question that was cancelled is asked anew at once, and one that was answered is asked again only on demand.
    { dedupingInterval: 0, revalidateOnFocus: false, revalidateIfStale: false },
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: another question cancels the one before.
  useEffect(() => () => running.current?.abort(), [text]);
  const soFar = early?.text === text ? early.answer : undefined;
  // One that was cancelled leaves an error behind, until it is asked anew.
  const failed = isValidating ? undefined : error;
  return {
    answer: failed ? undefined : (isValidating && soFar) || data,
    isAsking: isValidating,
    error: failed,
    askAgain: () => void mutate(),
  };
}
