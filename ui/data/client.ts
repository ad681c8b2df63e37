'use client';

import useSWR, { mutate, type SWRResponse } from 'swr';
import type { Answers } from '#core/answers/index.ts';
import type { DraftAnswer } from '#core/answers/plan.ts';
import type { SearchProblem } from '#core/answers/search.ts';
import type { DocumentOf } from '#core/input/document-of.ts';
import type { InputProblem } from '#core/input/input-problem.ts';
import type { OperationName, operations } from '#core/operations/index.ts';
import type { Conflict } from '#core/plan/merge.ts';
import routes from './routes.json' with { type: 'json' };

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

type Shaped<Name extends OperationName> = DocumentOf<(typeof operations)[Name]['input']>;

/** What an operation is given; what has a default may be left out. */
export type GivenTo<Name extends OperationName> = Given<Shaped<Name>> & object;

type Given<Value> = Value extends readonly (infer Item)[]
  ? readonly Given<Item>[]
  : Value extends object
    ? { readonly [Key in keyof Value]?: Given<Value[Key]> | undefined }
    : Value;

/** What an operation answers. */
export type AnswerOf<Name extends OperationName> = Name extends keyof Answers ? Answers[Name] : object | null;

interface Line<Answer, Progress> {
  readonly progress?: Progress;
  readonly result?: Answer;
  readonly problem?: string;
}

/** A request: what a cache knows its answer by. */
type Request = readonly [name: OperationName, address: string, body: string];

/** The address of an operation, with the parts of its path, and what a question without a body asks in its query. */
export function addressOf<Name extends OperationName>(name: Name, given: GivenTo<Name>): string {
  return requestOf(name, given)[1];
}

/**
 * Keeps the answer to a question up to date, asking again every `every` milliseconds (0: only when {@link refresh} is called);
 * screens that ask the same within `freshFor` milliseconds share an answer. While another answer is on its way the last one is
 * kept. `null` asks nothing.
 */
export function useQuestion<Name extends OperationName>(
  name: Name,
  given: GivenTo<Name> | null,
  every = 0,
  freshFor = 2_000,
): SWRResponse<AnswerOf<Name>, ApiProblem> {
  const key = given && requestOf(name, given);
  return useSWR<AnswerOf<Name>, ApiProblem, Request | null>(key, (request: Request) => send<AnswerOf<Name>>(request), {
    refreshInterval: every,
    dedupingInterval: freshFor,
    keepPreviousData: true,
    revalidateOnFocus: false,
    // Whoever asks a question with a body has asked it anew.
    revalidateIfStale: routes[name].method === 'GET',
  });
}

/** Has an operation carried out, once; throws {@link ApiProblem} with the sentence of the answer when it is not. */
export async function call<Name extends OperationName>(
  name: Name,
  given: GivenTo<Name>,
  options: RequestInit = {},
): Promise<AnswerOf<Name>> {
  return await send<AnswerOf<Name>>(requestOf(name, given), options);
}

/**
 * Has an operation that takes long carried out, and reports its progress; throws {@link ApiProblem} if it is refused or fails.
 */
export async function callInLines<Name extends OperationName, Progress>(
  name: Name,
  given: GivenTo<Name>,
  options: { readonly signal: AbortSignal; readonly onProgress: (progress: Progress) => void },
): Promise<AnswerOf<Name>> {
  const { signal, onProgress } = options;
  const headers = { accept: 'application/x-ndjson' };
  const answer = await fetched(requestOf(name, given), { signal, headers });
  if (!answer.body) throw new ApiProblem('The request ended without a result. Retry.', {});
  const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader();
  let rest = '';
  for (;;) {
    const { done, value } = await reader.read();
    if (done) throw new ApiProblem('The request ended without a result. Retry.', {});
    const lines = (rest + value).split('\n');
    rest = lines.pop() ?? '';
    for (const line of lines) {
      const message: Line<AnswerOf<Name>, Progress> = JSON.parse(line);
      if (message.result) return message.result;
      if (message.problem) throw new ApiProblem(message.problem, {});
      if (message.progress) onProgress(message.progress);
    }
  }
}

/** Has all that screens show of a question asked again. */
export async function refresh(...names: readonly OperationName[]): Promise<void> {
  await mutate((key) => Array.isArray(key) && names.includes(key[0]));
}

/** Has everything that screens show asked again. */
export async function refreshAll(): Promise<void> {
  await mutate(() => true);
}

/** Shows an answer at once, wherever the question without input is asked. */
export async function showAnswer<Name extends OperationName>(name: Name, answer: AnswerOf<Name>): Promise<void> {
  await mutate(requestOf(name, {}), answer, { revalidate: false });
}

function requestOf(name: OperationName, given: object): Request {
  const { method, path, ...route } = routes[name];
  const values = new Map<string, unknown>(Object.entries(given));
  const address = path.replaceAll(/\{(\w+)\}/g, (_, part: string) => {
    const value = values.get(part);
    values.delete(part);
    return encodeURIComponent(String(value));
  });
  const rest = [...values].filter(([, value]) => value !== undefined);
  if (method !== 'GET' && !('takes' in route)) return [name, address, JSON.stringify(Object.fromEntries(rest))];
  const query = new URLSearchParams(rest.map(([key, value]) => [key, String(value)])).toString();
  return [name, query === '' ? address : `${address}?${query}`, ''];
}

async function send<Answer>(request: Request, options: RequestInit = {}): Promise<Answer> {
  return await (await fetched(request, options)).json();
}

/** The response to a request; throws {@link ApiProblem} where it is refused. */
async function fetched([name, address, body]: Request, options: RequestInit): Promise<Response> {
  const { method } = routes[name];
  // A body of its own is a file.
  const type = options.body ? 'application/octet-stream' : 'application/json';
  const headers = { ...(method !== 'GET' && { 'content-type': type }), ...options.headers };
  const answer = await fetch(address, { method, ...(method !== 'GET' && { body }), ...options, headers });
  if (answer.ok) return answer;
  const value = await answer.json();
  throw new ApiProblem(value.detail ?? value.title ?? 'The request failed.', value);
}
