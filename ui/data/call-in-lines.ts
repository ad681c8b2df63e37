import { ApiProblem } from './use-api.ts';

interface Line<Answer, Progress> {
  readonly progress?: Progress;
  readonly result?: Answer;
  readonly problem?: string;
}

/** A long request: its body, and a callback for progress. */
export interface LongCall<Progress> {
  readonly body?: string;
  readonly signal?: AbortSignal;
  readonly onProgress: (progress: Progress) => void;
}

/** Sends a long request to the API and reports its progress; throws {@link ApiProblem} if the request is refused or fails. */
export async function callInLines<Answer, Progress>(path: string, call: LongCall<Progress>): Promise<Answer> {
  const { body, signal, onProgress } = call;
  const answer = await fetch(path, {
    method: 'POST',
    ...(body !== undefined && { body }),
    ...(signal && { signal }),
    headers: {
      ...(body !== undefined && { 'content-type': 'application/json' }),
      accept: 'application/x-ndjson',
    },
  });
  if (!answer.ok || !answer.body) {
    const value = await answer.json();
    throw new ApiProblem(value.detail ?? value.title ?? 'The request failed.', value);
  }
  const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader();
  let rest = '';
  for (;;) {
    const { done, value } = await reader.read();
    if (done) throw new ApiProblem('The request ended without a result. Retry.', {});
    const lines = (rest + value).split('\n');
    rest = lines.pop() ?? '';
    for (const line of lines) {
      const message: Line<Answer, Progress> = JSON.parse(line);
      if (message.result) return message.result;
      if (message.problem) throw new ApiProblem(message.problem, {});
      if (message.progress) onProgress(message.progress);
    }
  }
}
