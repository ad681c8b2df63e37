import { array, mixed, object, string } from 'yup';

/** What is sent along with a call. */
interface CallOptions {
  readonly body?: unknown;
  /** Bytes to be passed on as they come. */
  readonly stream?: ReadableStream<Uint8Array> | null;
  readonly signal?: AbortSignal;
}

/** What the engine says when it does not do what was asked. */
const refusal = object({
  detail: string().default('The engine gave no reason.'),
  problems: array(mixed().required()),
  problem: mixed(),
});

const titles: Readonly<Record<number, string>> = {
  400: 'The request is not valid',
  404: 'There is no such thing',
  409: 'This cannot be done now',
  413: 'It is too long',
  429: 'The engine is behind',
  503: 'The store cannot be reached',
};

/** Calls the engine's internal API; a good answer is passed on as it comes, another as a problem. */
export async function callEngine(path: string, options: CallOptions = {}): Promise<Response> {
  const base = `http://127.0.0.1:${process.env.ENGINE_PORT ?? 4319}`;
  const { body, stream, signal } = options;
  const type = stream ? 'application/octet-stream' : body === undefined ? undefined : 'application/json';
  // What a stream needs stands in no declaration of `fetch` yet.
  const streaming = stream ? { body: stream, duplex: 'half' } : {};
  let answer: Response;
  try {
    answer = await fetch(base + path, {
      method: type ? 'POST' : 'GET',
      headers: {
        authorization: `Bearer ${process.env.ENGINE_SECRET ?? ''}`,
        ...(type && { 'content-type': type }),
      },
      ...(body !== undefined && { body: JSON.stringify(body) }),
      ...streaming,
      ...(signal && { signal }),
      cache: 'no-store',
    });
  } catch {
    // Nobody waits for the answer any more.
    if (signal?.aborted) return new Response(null, { status: 204 });
    return problem(503, 'The engine does not answer', 'It is started again by itself within seconds; try again then.');
  }
  if (answer.ok) return answer;
  const said: unknown = await answer.json().catch(() => ({}));
  const { detail, ...more } = refusal.cast(said, { assert: false }) ?? {};
  if (answer.status === 401) return problem(503, 'The engine does not know the web process', detail ?? '');
  return problem(answer.status, titles[answer.status] ?? 'The engine failed', detail ?? '', more);
}

/** An answer as `application/problem+json` (RFC 9457), with further members where they help. */
export function problem(status: number, title: string, detail: string, more: object = {}): Response {
  return Response.json(
    { type: 'about:blank', title, status, detail, ...more },
    { status, headers: { 'content-type': 'application/problem+json' } },
  );
}

/** The last line of a stream of the engine: the result, or a problem. */
export async function resultOf(answer: Response): Promise<Response> {
  if (!answer.ok || answer.status === 204) return answer;
  const lines = (await answer.text()).trim().split('\n');
  let last: unknown;
  try {
    last = JSON.parse(lines[lines.length - 1] ?? '{}');
  } catch {
    // The engine ended in the middle of its answer.
    return problem(503, 'The engine does not answer', 'It is started again by itself within seconds; try again then.');
  }
  if (typeof last === 'object' && last !== null && 'result' in last) return Response.json(last.result);
  const detail =
    typeof last === 'object' && last !== null && 'problem' in last
      ? String(last.problem)
      : 'The engine gave no answer.';
  return problem(500, 'The engine failed', detail);
}
