import type { IncomingMessage } from 'node:http';
import { Readable } from 'node:stream';
import Fastify, { type FastifyInstance, type FastifyReply, type FastifyRequest } from 'fastify';
import { ValidationError } from 'yup';
import { problemsOf } from '#core/input/input-problem.ts';
import { StoreFault } from '#store/fault.ts';
import { findSwitchToken } from '#store/plan/switch-tokens.ts';
import { isSameText } from '../base/same-text.ts';
import { type Asking, type Handler, StreamAnswer, TextAnswer } from '../operations/handler.ts';
import { handlers } from '../operations/index.ts';
import { Refusal } from '../operations/refusal.ts';
import type { OperationServices } from '../operations/services.ts';

/** Longest JSON of an operation's input, in bytes. */
const longestInput = 10_000_000;

/**
 * The engine's internal API, for the web process on the same machine, which knows the secret: `POST /operations/{name}`
 * carries an operation out. Its input is the JSON body, or, where the body is no JSON, the parameter `input` of the query.
 */
export function apiServer(services: OperationServices): FastifyInstance {
  const app = Fastify({ logger: false, bodyLimit: longestInput, routerOptions: { maxParamLength: 200 } });
  const { engineSecret: secret } = services.config;
  app.addHook('onRequest', async (request, reply) => {
    if (!/^(127\.0\.0\.1|localhost)(:\d+)?$/.test(request.headers.host ?? ''))
      return reply.code(403).send({ detail: 'This address is for this machine only.' });
    const shown = /^Bearer (\S+)$/.exec(request.headers.authorization ?? '')?.[1] ?? '';
    if (secret === '' || !isSameText(shown, secret))
      return reply.code(401).send({ detail: 'This address is for the web process, which shows ENGINE_SECRET.' });
    return undefined;
  });
  // Who takes it reads it; it may be long.
  app.addContentTypeParser('application/octet-stream', (_request, payload, done) => done(null, payload));
  app.setErrorHandler((error: Error & { statusCode?: number }, _request, reply) => {
    const { status, ...answer } = faultAnswer(error);
    if (status === 500) services.log.error({ err: error }, 'The internal API failed.');
    return reply.code(status).send(answer);
  });
  app.post('/refresh', async () => {
    await services.changes.refresh();
    return {};
  });
  app.post<{ Body: { readonly hash?: unknown } }>('/switch-token', async (request) => {
    const found = await findSwitchToken(services.database.db, String(request.body?.hash ?? ''));
    return { title: found?.title ?? null };
  });
  app.post<{ Params: { readonly name: string } }>('/operations/:name', (request, reply) => {
    const handler: Handler | undefined = Object.entries(handlers).find(([name]) => name === request.params.name)?.[1];
    if (!handler) return reply.code(404).send({ detail: 'There is no such operation.' });
    return carryOut(services, handler, request, reply);
  });
  return app;
}

/** What a caller gets to know of a fault: nothing that may hold data, unless it is the caller's own doing. */
function faultAnswer(error: Error & { statusCode?: number }): {
  readonly status: number;
  readonly title?: string;
  readonly detail: string;
} {
  if (error instanceof Refusal)
    return { status: error.status, title: error.title, detail: error.message, ...error.more };
  if (error instanceof ValidationError)
    return { status: 400, detail: error.errors.join('; '), ...{ problems: problemsOf(error) } };
  if (error instanceof SyntaxError) return { status: 400, detail: error.message };
  if (error instanceof StoreFault)
    return error.kind === 'away'
      ? {
          status: 503,
          title: 'The store cannot be reached',
          detail: 'The store does not answer. Nothing was changed; retry in a moment.',
        }
      : { status: 500, detail: error.message };
  if (error.statusCode !== undefined && error.statusCode < 500)
    return { status: error.statusCode, detail: error.message };
  return { status: 500, detail: 'The engine failed; its log has the details.' };
}

const lines = 'application/x-ndjson';

/**
 * Carries an operation out. Who accepts lines of JSON gets how far it has come, and the result, or what went wrong,
 * as the last line; who hangs up ends it.
 */
async function carryOut(
  services: OperationServices,
  { operation, answer }: Handler,
  request: FastifyRequest,
  reply: FastifyReply,
): Promise<FastifyReply> {
  const abort = new AbortController();
  reply.raw.on('close', () => abort.abort());
  const wantsLines = request.headers.accept?.includes(lines) === true;
  let isBegun = false;
  let isOver = false;
  const write = (value: object): void => {
    if (!isBegun) {
      reply.hijack();
      reply.raw.writeHead(200, { 'content-type': lines, 'cache-control': 'no-store' });
      isBegun = true;
    }
    if (!abort.signal.aborted) reply.raw.write(`${JSON.stringify(value)}\n`);
  };
  const asking: Asking = {
    signal: abort.signal,
    // What is reported after the result would be written into a reply that has ended.
    progress: (value) => {
      if (wantsLines && !isOver) write({ progress: value });
    },
    isFollowed: wantsLines,
    body: operation.takes ? (request.body as IncomingMessage) : undefined,
    who: whoOf(request),
  };
  try {
    const done = await answer(services, operation.takes ? queryInput(request) : request.body, asking);
    isOver = true;
    if (done instanceof TextAnswer)
      return reply.header('content-disposition', `attachment; filename="${done.file}"`).type(done.type).send(done.text);
    if (done instanceof StreamAnswer) {
      if (done.file !== undefined) reply.header('content-disposition', `attachment; filename="${done.file}"`);
      return reply.header('cache-control', 'no-store').type(done.type).send(Readable.from(done.pieces));
    }
    if (!wantsLines)
      return reply
        .code(operation.status ?? 200)
        .type('application/json')
        .send(JSON.stringify(done));
    write({ result: done });
  } catch (error) {
    isOver = true;
    if (!isBegun && !abort.signal.aborted) throw error;
    if (!abort.signal.aborted) {
      services.log.error({ err: error }, 'An operation failed halfway.');
      write({ problem: faultAnswer(error instanceof Error ? error : new Error(String(error))).detail });
    }
  }
  if (isBegun) reply.raw.end();
  else reply.hijack();
  return reply;
}

/** Who asks, as the web process says it, which knows the secret. */
function whoOf({ headers }: FastifyRequest): string {
  const who = headers['otter-who'];
  return typeof who === 'string' ? decodeURIComponent(who).slice(0, 64) : '';
}

function queryInput(request: FastifyRequest): unknown {
  const { searchParams } = new URL(request.url, 'http://127.0.0.1');
  return JSON.parse(searchParams.get('input') ?? '{}');
}
