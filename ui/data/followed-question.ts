'use client';

import { useCallback, useEffect, useState } from 'react';
import type { OperationName } from '#core/operations/index.ts';
import { type AnswerOf, ApiProblem, callInLines, type GivenTo } from './client.ts';

/** A question whose first answers come before the last one. */
export interface FollowedAnswer<Name extends OperationName> {
  /** The best answer so far. */
  readonly answer: AnswerOf<Name> | undefined;
  /** Whether a better one is on its way. */
  readonly isAsking: boolean;
  readonly error: ApiProblem | undefined;
  readonly askAgain: () => void;
}

/** What came of a question, by its text. */
interface Followed<Name extends OperationName> extends Omit<FollowedAnswer<Name>, 'askAgain'> {
  readonly text: string;
}

/** Asks a question and shows its answers as they become better; `null` asks nothing. The last question is cancelled by another one. */
export function useFollowedQuestion<Name extends OperationName>(
  name: Name,
  given: GivenTo<Name> | null,
): FollowedAnswer<Name> {
  const text = given && JSON.stringify(given);
  const [turn, setTurn] = useState(0);
  const [followed, setFollowed] = useState<Followed<Name> | undefined>();
  // biome-ignore lint/correctness/useExhaustiveDependencies: another turn asks the same again.
  useEffect(() => {
    if (text === null) return;
    const abort = new AbortController();
    // Asked again, the last answer stays until there is another one.
    setFollowed((before) => before && { ...before, isAsking: true });
    const show = (next: Pick<Followed<Name>, 'answer' | 'isAsking' | 'error'>): void => {
      if (!abort.signal.aborted) setFollowed({ text, ...next });
    };
    void callInLines<Name, AnswerOf<Name>>(name, JSON.parse(text), {
      signal: abort.signal,
      onProgress: (answer) => show({ answer, isAsking: true, error: undefined }),
    }).then(
      (answer) => show({ answer, isAsking: false, error: undefined }),
      (error: Error) => show({ answer: undefined, isAsking: false, error: problemOf(error) }),
    );
    return () => abort.abort();
  }, [name, text, turn]);
  const askAgain = useCallback(() => setTurn((before) => before + 1), []);
  const current = followed?.text === text ? followed : undefined;
  return {
    answer: current?.answer,
    isAsking: text !== null && (current?.isAsking ?? true),
    error: current?.error,
    askAgain,
  };
}

function problemOf(error: Error): ApiProblem {
  return error instanceof ApiProblem ? error : new ApiProblem(error.message, {});
}
