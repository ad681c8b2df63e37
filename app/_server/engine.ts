import { array, mixed, object, string } from 'yup';
import { mergeEvents } from './merge-events.ts';
import { problem } from './problem.ts';

/** What is sent along with a call. */
interface CallOptions {
  readonly input: object;
  /** Bytes to be passed on as they come, in the place of JSON. */
  readonly stream?: ReadableStream<Uint8Array> | null;
  readonly signal?: AbortSignal;
  /** What kind of answer is wanted. */
  readonly accept?: string;
  /** Who asks; absent or empty where nobody knows. */
  readonly who?: string;
}

/** What the engine says when it does not do what was asked; further members are passed on as they are. */
const refusal = object({
  title: string().default(''),
  detail: string().default('The engine gave no reason.'),
  problems: array(mixed().required()),
});

const titles: Readonly<Record<number, string>> = {
  404: 'There is no such thing',
  409: 'This cannot be done now',
  413: 'It is too long',
  429: 'The engine is behind',
  503: 'The store cannot be reached',
};

/** Where the engines are, on this machine: `ENGINE_PORT` is one port, or several between commas. */
function enginePorts(): readonly string[] {
  return (process.env.ENGINE_PORT ?? '4319').split(',').map((port) => port.trim());
}

/** The engine that answered last is asked first. */
let preferred = 0;

/**
 * Has an engine carry an operation out: whichever answers. Only one that cannot be reached at all is passed over, so
 * nothing is done twice. A good answer is passed on as it comes, another as a problem; `failure` is its title.
 */
export async function callEngine(name: string, failure: string, options: CallOptions): Promise<Response> {
  const ports = enginePorts();
  for (let attempt = 0; attempt < ports.length; attempt++) {
    const which = (preferred + attempt) % ports.length;
    try {
      const answer = await ask(ports[which] as string, name, options);
      preferred = which;
      return answer.ok ? answer : await refused(answer, failure);
    } catch (error) {
      // Nobody waits for the answer any more.
      if (options.signal?.aborted) return new Response(null, { status: 204 });
      if (!isUnreached(error)) break;
    }
  }
  return unanswered();
}

/**
 * Has every engine carry out a question that each answers for itself with a stream of events; their streams become one.
 * Engines that cannot be reached are left out; what one refuses is refused.
 */
export async function callEngines(name: string, failure: string, options: CallOptions): Promise<Response> {
  const answers = await Promise.all(enginePorts().map((port) => ask(port, name, options).catch(() => undefined)));
  const there = answers.filter((answer) => answer !== undefined);
  const wrong = there.find(({ ok }) => !ok);
  if (options.signal?.aborted) return new Response(null, { status: 204 });
  if (wrong) {
    await Promise.allSettled(there.filter((answer) => answer !== wrong).map(({ body }) => body?.cancel()));
    return await refused(wrong, failure);
  }
  const [first] = there;
  if (!first) return unanswered();
  const streams = there.flatMap(({ body }) => body ?? []);
  return new Response(mergeEvents(streams), { headers: first.headers });
}

/**
 * What a token for switching is for, by its SHA-256 (hexadecimal); null for one that is not known, and an answer that says
 * so where no engine can be asked.
 */
export async function whoseSwitchToken(hash: string): Promise<string | null | Response> {
  for (const port of enginePorts()) {
    const answer = await fetch(`http://127.0.0.1:${port}/switch-token`, {
      method: 'POST',
      headers: { authorization: `Bearer ${process.env.ENGINE_SECRET ?? ''}`, 'content-type': 'application/json' },
      body: JSON.stringify({ hash }),
      cache: 'no-store',
    }).catch(() => undefined);
    if (answer?.ok) return tokenTitle.cast(await answer.json()).title ?? null;
  }
  return unanswered();
}

const tokenTitle = object({ title: string().nullable() });

function unanswered(): Response {
  return problem(503, 'The engine does not answer', 'It is started again by itself within seconds; try again then.');
}

async function ask(port: string, name: string, { input, stream, signal, accept, who }: CallOptions): Promise<Response> {
  // What a stream needs is in no declaration of `fetch` yet.
  const sent = stream === undefined ? { body: JSON.stringify(input) } : { body: stream, duplex: 'half' };
  const query = stream === undefined ? '' : `?${new URLSearchParams({ input: JSON.stringify(input) })}`;
  return await fetch(`http://127.0.0.1:${port}/operations/${name}${query}`, {
    method: 'POST',
    headers: {
      authorization: `Bearer ${process.env.ENGINE_SECRET ?? ''}`,
      'content-type': stream === undefined ? 'application/json' : 'application/octet-stream',
      ...(accept && { accept }),
      ...(who && { 'otter-who': encodeURIComponent(who) }),
    },
    ...sent,
    ...(signal && { signal }),
    cache: 'no-store',
  });
}

/** Whether a call failed before anything could be sent. */
function isUnreached(error: unknown): boolean {
  const cause = error instanceof Error ? error.cause : undefined;
  return cause instanceof Error && 'code' in cause && cause.code === 'ECONNREFUSED';
}

async function refused(answer: Response, failure: string): Promise<Response> {
  const said: unknown = await answer.json().catch(() => ({}));
  const { title, detail, ...more } = refusal.cast(said, { assert: false }) ?? {};
  if (answer.status === 401) return problem(503, 'The engine does not know the web process', detail ?? '');
  if (answer.status === 500) return problem(500, failure, detail ?? '');
  return problem(answer.status, title || titles[answer.status] || failure, detail ?? '', more);
}
