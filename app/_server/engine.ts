/** Calls the engine's internal API; the answer is passed on as it comes. */
export async function callEngine(
  path: string,
  options: { readonly body?: unknown; readonly bytes?: Uint8Array<ArrayBuffer>; readonly signal?: AbortSignal } = {},
): Promise<Response> {
  const base = `http://127.0.0.1:${process.env.ENGINE_PORT ?? 4319}`;
  try {
    return await fetch(base + path, {
      method: options.body === undefined && options.bytes === undefined ? 'GET' : 'POST',
      ...(options.body !== undefined && {
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify(options.body),
      }),
      ...(options.bytes && { headers: { 'content-type': 'application/octet-stream' }, body: options.bytes }),
      ...(options.signal && { signal: options.signal }),
      cache: 'no-store',
    });
  } catch {
    // Nobody waits for the answer any more.
    if (options.signal?.aborted) return new Response(null, { status: 204 });
    return problem(503, 'The engine does not answer', 'Nothing was changed. It is started again with npm start.');
  }
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
  if (!answer.ok) return answer;
  const lines = (await answer.text()).trim().split('\n');
  const last: unknown = JSON.parse(lines[lines.length - 1] ?? '{}');
  if (typeof last === 'object' && last !== null && 'result' in last) return Response.json(last.result);
  const detail =
    typeof last === 'object' && last !== null && 'problem' in last
      ? String(last.problem)
      : 'The engine gave no answer.';
  return problem(500, 'The engine failed', detail);
}
