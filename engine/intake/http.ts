import Fastify, { type FastifyInstance, type FastifyReply, type FastifyRequest } from 'fastify';
import { parseTime } from '#core/conditions/times.ts';
import type { FormatChoice } from '#core/formats/index.ts';
import { encodeOtlpAnswer } from '#core/formats/otlp.ts';
import type { Database } from '#store/database.ts';
import type { Measures } from '../measures.ts';
import type { Delivery, DeliveryAnswer, DeliveryShape } from './delivery.ts';
import type { IntakeQueue } from './queue.ts';
import type { Senders, SourceParts } from './senders.ts';
import type { TapeRate } from './tape-rate.ts';

/** Longest request body, in bytes as sent. */
export const maxBodyBytes = 16_000_000;
/** Bodies that are refused for their length are read on, and forgotten, up to this length. */
const mostReadOn = 4 * maxBodyBytes;
/** Seconds after which a sender that was put off may come again. */
const retryAfter = 2;
/** Longest `Idempotency-Key`. */
const maxKeyLength = 200;

interface Setting {
  readonly queue: IntakeQueue;
  readonly senders: Senders;
  readonly tapeRate: TapeRate;
  readonly measures: Measures;
  readonly database: Database;
  /** Whether the store answered when it was last asked. */
  readonly ready: () => boolean;
}

/** A refusal as `application/problem+json` (RFC 9457). */
function refuse(reply: FastifyReply, status: number, title: string, detail: string): FastifyReply {
  if (status === 429 || status === 503) reply.header('Retry-After', String(retryAfter));
  if (status === 401) reply.header('WWW-Authenticate', 'Bearer');
  return reply
    .code(status)
    .type('application/problem+json')
    .send(JSON.stringify({ type: 'about:blank', title, status, detail }));
}

/** The HTTP side of the intake: `/intake/{source}`, `/v1/logs`, health and metrics. */
export function intakeServer(setting: Setting): FastifyInstance {
  const app = Fastify({ logger: false, bodyLimit: maxBodyBytes, requestTimeout: 60_000 });
  app.removeAllContentTypeParsers();
  app.addContentTypeParser(
    '*',
    { parseAs: 'buffer' },
    (_request: FastifyRequest, body: Buffer, done: (error: null, body: Buffer) => void) => done(null, body),
  );
  app.setErrorHandler((error: { statusCode?: number; message: string }, request, reply) => {
    setting.measures.refused++;
    if (error.statusCode === 413) {
      // A sender that is cut off while it writes may not see the answer: what is not far too long is read to its end.
      if (Number(request.headers['content-length']) <= mostReadOn) reply.removeHeader('connection');
      return refuse(
        reply,
        413,
        'The body is too long',
        `A request may have ${maxBodyBytes / 1e6} MB. Nothing of it was kept; send it in smaller requests.`,
      );
    }
    const status = error.statusCode ?? 500;
    return refuse(reply, status, status < 500 ? 'The request is wrong' : 'The engine failed', error.message);
  });
  app.setNotFoundHandler((_request, reply) =>
    refuse(reply, 404, 'There is nothing here', 'Send events to POST /intake/{source} or POST /v1/logs.'),
  );
  app.post<{ Params: { source: string } }>('/intake/:source', (request, reply) => takeLines(setting, request, reply));
  app.post('/v1/logs', (request, reply) => takeOtlp(setting, request, reply));
  app.get('/health/live', async () => ({ status: 'live' }));
  app.get('/health/ready', async (_request, reply) => {
    if (setting.ready()) return { status: 'ready' };
    return refuse(reply, 503, 'The store cannot be reached', 'Events are not accepted until it is back.');
  });
  app.get('/metrics', async (_request, reply) =>
    reply
      .type('application/openmetrics-text; version=1.0.0; charset=utf-8')
      .send(setting.measures.openMetrics(setting.queue.queuedBytes)),
  );
  return app;
}

function bearer(request: FastifyRequest): string | undefined {
  return /^Bearer\s+(\S+)$/i.exec(request.headers.authorization ?? '')?.[1];
}

/**
 * The header `Otter-Backfill` marks history: each event counts as arrived at its own time, and one without a time at the
 * time in the header.
 */
function backfillTime(request: FastifyRequest): number | undefined {
  const header = request.headers['otter-backfill'];
  if (typeof header !== 'string') return undefined;
  return parseTime(header, Date.now()) ?? Date.now();
}

async function takeLines(
  setting: Setting,
  request: FastifyRequest<{ Params: { source: string } }>,
  reply: FastifyReply,
): Promise<FastifyReply> {
  const name = request.params.source;
  const token = bearer(request);
  if (token === undefined) {
    setting.measures.refused++;
    return refuse(
      reply,
      401,
      'A token is missing',
      'Send the header Authorization: Bearer with a token of this source.',
    );
  }
  const right = setting.senders.right(token);
  if (!right) {
    setting.measures.refused++;
    return refuse(
      reply,
      401,
      'The token is not known',
      'It may have been revoked. A token of the source is shown when it is made.',
    );
  }
  if (right.source.name !== name) {
    setting.measures.refused++;
    return refuse(reply, 403, 'The token is for another source', `It may not be used for ${name}.`);
  }
  const backfill = backfillTime(request);
  if (backfill !== undefined && !right.backfill) {
    return refuse(
      reply,
      403,
      'The token may not bring in history',
      'Otter-Backfill needs a token that was made for it.',
    );
  }
  const format = right.source.format as FormatChoice;
  const parts = {
    ...setting.senders.deliveryOf(right.source),
    source: name,
    shape: 'lines',
    format,
    backfill,
  } as const;
  return await deliver(setting, request, reply, parts, (answer) => sendAnswer(reply, answer));
}

async function takeOtlp(setting: Setting, request: FastifyRequest, reply: FastifyReply): Promise<FastifyReply> {
  const right = setting.senders.right(bearer(request) ?? '');
  if (!right) {
    setting.measures.refused++;
    return refuse(
      reply,
      401,
      'The token is not known',
      'Set the exporter header Authorization to Bearer and a token of the source.',
    );
  }
  const type = request.headers['content-type'] ?? '';
  const isJson = /^application\/json\b/i.test(type);
  if (!isJson && !/^application\/x-protobuf\b/i.test(type)) {
    return refuse(reply, 415, 'The content type is not OTLP', 'Send application/x-protobuf or application/json.');
  }
  const shape: DeliveryShape = isJson ? 'otlp-json' : 'otlp-protobuf';
  const backfill = right.backfill ? backfillTime(request) : undefined;
  const own = setting.senders.deliveryOf(right.source);
  const parts = { ...own, source: right.source.name, shape, format: 'auto', backfill } as const;
  return await deliver(setting, request, reply, parts, (answer) => {
    if (answer.kind === 'refused') return sendAnswer(reply, answer);
    const message = answer.problems[0]?.message ?? '';
    if (!isJson)
      return reply.type('application/x-protobuf').send(Buffer.from(encodeOtlpAnswer(answer.rejected, message)));
    const partialSuccess =
      answer.rejected > 0 ? { partialSuccess: { rejectedLogRecords: answer.rejected, errorMessage: message } } : {};
    return reply.type('application/json').send(JSON.stringify(partialSuccess));
  });
}

function sendAnswer(reply: FastifyReply, answer: DeliveryAnswer): FastifyReply {
  if (answer.kind === 'refused') return refuse(reply, answer.status, 'The body could not be read', answer.message);
  const { accepted, rejected, problems, notes } = answer;
  return reply.type('application/json').send(
    JSON.stringify({
      accepted,
      rejected,
      ...(problems.length > 0 && { problems }),
      ...(notes.length > 0 && { notes }),
    }),
  );
}

type DeliveryParts = SourceParts &
  Pick<Delivery, 'source' | 'shape' | 'format'> & { readonly backfill: number | undefined };

async function deliver(
  setting: Setting,
  request: FastifyRequest,
  reply: FastifyReply,
  parts: DeliveryParts,
  send: (answer: DeliveryAnswer) => FastifyReply,
): Promise<FastifyReply> {
  const { queue, measures } = setting;
  const encoding = request.headers['content-encoding'];
  if (encoding !== undefined && !/^(gzip|identity)$/i.test(encoding)) {
    return refuse(reply, 415, 'The content encoding is not known', 'Send the body as it is or with gzip.');
  }
  const key = request.headers['idempotency-key'];
  if (typeof key === 'string' && key.length > maxKeyLength) {
    return refuse(reply, 400, 'The Idempotency-Key is too long', `It may have ${maxKeyLength} characters.`);
  }
  const body = Buffer.isBuffer(request.body) ? request.body : Buffer.alloc(0);
  const { backfill, ...rest } = parts;
  const received = backfill ?? Date.now();
  // A guess suffices: compressed lines of logs are about a tenth of their length, of some 200 bytes.
  const records = Math.ceil(body.length / (encoding === 'gzip' ? 20 : 200));
  const delivery: Delivery = {
    ...rest,
    backfill: backfill !== undefined,
    gzip: /^gzip$/i.test(encoding ?? ''),
    chunks: [body],
    received,
    ...(typeof key === 'string' && { key }),
    tapeEvery:
      backfill !== undefined
        ? setting.tapeRate.everyOfHistory(records)
        : setting.tapeRate.every(parts.source, received, records),
  };
  const answer = await new Promise<DeliveryAnswer | 'full' | 'away'>((resolve) => {
    const storeAway = (): boolean => {
      resolve('away');
      return false;
    };
    if (!queue.offer({ delivery, bytes: body.length, answer: resolve, storeAway })) resolve('full');
  });
  if (answer === 'full') {
    measures.refused++;
    return refuse(
      reply,
      429,
      'The engine is behind',
      'The queue is full. Nothing of this request was kept; send it again.',
    );
  }
  if (answer === 'away') {
    measures.refused++;
    return refuse(
      reply,
      503,
      'The store cannot be reached',
      'This request was not acknowledged; send it again, with the same Idempotency-Key if it has one.',
    );
  }
  return send(answer);
}
