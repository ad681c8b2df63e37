import type { IncomingMessage } from 'node:http';
import Fastify, { type FastifyInstance, type FastifyReply, type FastifyRequest } from 'fastify';
import { parseTime } from '#core/conditions/times.ts';
import type { FormatChoice } from '#core/formats/index.ts';
import { encodeOtlpAnswer } from '#core/formats/otlp.ts';
import type { Database } from '#store/database.ts';
import { listSpools, type Spool } from '#store/events/spools.ts';
import type { Delivery, DeliveryAnswer, DeliveryShape } from '../deliveries/delivery.ts';
import { declaredSize } from '../deliveries/gzip.ts';
import { type Hindrance, hindrances } from '../deliveries/hindrance.ts';
import type { Measures } from '../measures/measures.ts';
import type { SourceDirectory, SourceParts, TokenRight } from '../sources/source-directory.ts';
import type { DiskWatch } from '../watches/disk-watch.ts';
import { BodyBudget } from './body-budget.ts';
import { handIn } from './hand-in.ts';
import { isKnownHost, isShown, type MetricsDoor } from './metrics-door.ts';
import type { IntakeQueue } from './queue.ts';
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
  readonly directory: SourceDirectory;
  readonly tapeRate: TapeRate;
  readonly measures: Measures;
  readonly database: Database;
  /** Why nothing can be taken in now; undefined where it can. */
  readonly hindrance: () => Hindrance | undefined;
  readonly disk: Pick<DiskWatch, 'free'>;
  readonly metricsDoor: MetricsDoor;
  /** Derived metrics as OpenMetrics text. */
  readonly derivedMetrics: () => Promise<string>;
}

/** A refusal as `application/problem+json` (RFC 9457). */
function refuse(reply: FastifyReply, status: number, title: string, detail: string): FastifyReply {
  if ((status === 429 || status === 503) && !reply.hasHeader('Retry-After'))
    reply.header('Retry-After', String(retryAfter));
  if (status === 401) reply.header('WWW-Authenticate', 'Bearer');
  return reply
    .code(status)
    .type('application/problem+json')
    .send(JSON.stringify({ type: 'about:blank', title, status, detail }));
}

declare module 'fastify' {
  interface FastifyRequest {
    /** What the token of the request allows; it was looked at before the body. */
    right: TokenRight | undefined;
    /** Bytes of the body that are to be given back when the request has been answered. */
    bodyBytes: number;
  }
}

/** Refused before a byte of the body was read. */
class Refusal extends Error {
  constructor(
    readonly statusCode: number,
    readonly title: string,
    detail: string,
  ) {
    super(detail);
  }
}

/** The HTTP side of the intake: `/intake/{source}`, `/v1/logs`, health and metrics. */
export function intakeServer(setting: Setting): FastifyInstance {
  const app = Fastify({ logger: false, bodyLimit: maxBodyBytes, requestTimeout: 60_000 });
  const budget = new BodyBudget();
  app.decorateRequest('right', undefined);
  app.decorateRequest('bodyBytes', 0);
  app.removeAllContentTypeParsers();
  app.addContentTypeParser('*', async (request: FastifyRequest, payload: IncomingMessage): Promise<Buffer> => {
    const read = await budget.read(payload, maxBodyBytes);
    if ('refused' in read) {
      throw read.refused === 'too-long'
        ? new Refusal(413, 'The body is too long', tooLong)
        : new Refusal(
            429,
            'The engine is behind',
            'Too much is being sent at once. Nothing of this was kept; send it again.',
          );
    }
    request.bodyBytes = read.bytes.length;
    return read.bytes;
  });
  app.addHook('onResponse', async (request) => budget.release(request.bodyBytes));
  app.setErrorHandler((error: { statusCode?: number; message: string }, request, reply) => {
    setting.measures.refused++;
    const status = error.statusCode ?? 500;
    // A sender that is cut off while it writes may not see the answer: what is not far too long is read to its end.
    if (status === 413 && Number(request.headers['content-length']) <= mostReadOn) reply.removeHeader('connection');
    if (error instanceof Refusal) return refuse(reply, status, error.title, error.message);
    if (status < 500) return refuse(reply, status, 'The request is wrong', error.message);
    return refuse(
      reply,
      status,
      'The engine failed',
      'Whether this was kept is not known; send it again with the same Idempotency-Key.',
    );
  });
  app.setNotFoundHandler((_request, reply) =>
    refuse(reply, 404, 'There is nothing at this address', 'Send events to POST /intake/{source} or POST /v1/logs.'),
  );
  app.post<{ Params: { source: string } }>(
    '/intake/:source',
    { onRequest: async (request) => admitLines(setting, request) },
    (request, reply) => takeLines(setting, request, reply),
  );
  app.post('/v1/logs', { onRequest: async (request) => admitOtlp(setting, request) }, (request, reply) =>
    takeOtlp(setting, request, reply),
  );
  app.get('/health/live', async () => ({ status: 'live' }));
  app.get('/health/ready', async (_request, reply) => {
    const hindrance = setting.hindrance();
    if (!hindrance) return { status: 'ready' };
    return refuse(reply, 503, hindrances[hindrance].title, 'Events are not accepted until that is over.');
  });
  const measured = { onRequest: async (request: FastifyRequest) => admitToMetrics(setting.metricsDoor, request) };
  app.get('/metrics', measured, async (_request, reply) =>
    reply.type('application/openmetrics-text; version=1.0.0; charset=utf-8').send(
      await setting.measures.openMetrics({
        queued: setting.queue.queuedBytes,
        free: setting.disk.free,
        spools: await spools(setting),
      }),
    ),
  );
  app.get('/metrics/derived', measured, async (_request, reply) =>
    reply.type('application/openmetrics-text; version=1.0.0; charset=utf-8').send(await setting.derivedMetrics()),
  );
  return app;
}

const tooLong = `A request may have ${maxBodyBytes / 1e6} MB. Nothing of it was kept; send it in smaller requests.`;

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

/** Looks at who sends before anything of a body is read. */
function admitLines({ directory }: Setting, request: FastifyRequest<{ Params: { source: string } }>): void {
  const name = request.params.source;
  const token = bearer(request);
  if (token === undefined)
    throw new Refusal(401, 'A token is missing', 'Send the header Authorization: Bearer with a token of this source.');
  const right = directory.right(token);
  if (!right)
    throw new Refusal(
      401,
      'The token is not known',
      'It may have been revoked. A token of the source is shown when it is made.',
    );
  if (right.source.name !== name)
    throw new Refusal(403, 'The token is for another source', `It may not be used for ${name}.`);
  if (request.headers['otter-backfill'] !== undefined && !right.backfill)
    throw new Refusal(403, 'The token may not backfill', 'Otter-Backfill needs a token that was made for it.');
  checkHeaders(request);
  request.right = right;
}

function admitToMetrics(door: MetricsDoor, request: FastifyRequest): void {
  if (!isKnownHost(door, request.headers.host))
    throw new Refusal(
      403,
      'The host is not known',
      'Ask this machine by its address, or name the host in METRICS_HOSTS.',
    );
  if (!isShown(door, bearer(request)))
    throw new Refusal(401, 'A token is missing', 'Send the header Authorization: Bearer with the METRICS_TOKEN.');
}

function admitOtlp({ directory }: Setting, request: FastifyRequest): void {
  const right = directory.right(bearer(request) ?? '');
  if (!right)
    throw new Refusal(
      401,
      'The token is not known',
      'Set the exporter header Authorization to Bearer and a token of the source.',
    );
  if (!isOtlpJson(request) && !/^application\/x-protobuf\b/i.test(request.headers['content-type'] ?? ''))
    throw new Refusal(415, 'The content type is not OTLP', 'Send application/x-protobuf or application/json.');
  checkHeaders(request);
  request.right = right;
}

/** What is wrong with a request whatever its body holds. */
function checkHeaders({ headers }: FastifyRequest): void {
  if (Number(headers['content-length']) > maxBodyBytes) throw new Refusal(413, 'The body is too long', tooLong);
  const encoding = headers['content-encoding'];
  if (encoding !== undefined && !/^(gzip|identity)$/i.test(encoding))
    throw new Refusal(415, 'The content encoding is not known', 'Send the body as it is or with gzip.');
  const key = headers['idempotency-key'];
  if (typeof key !== 'string') return;
  if (key.length > maxKeyLength)
    throw new Refusal(400, 'The Idempotency-Key is too long', `It may have ${maxKeyLength} characters.`);
  if (key.trim() === '')
    throw new Refusal(
      400,
      'The Idempotency-Key is empty',
      'Two requests with it would count as one. Nothing was kept.',
    );
}

function isOtlpJson({ headers }: FastifyRequest): boolean {
  return /^application\/json\b/i.test(headers['content-type'] ?? '');
}

async function takeLines(setting: Setting, request: FastifyRequest, reply: FastifyReply): Promise<FastifyReply> {
  const { source } = request.right as TokenRight;
  const parts = {
    ...setting.directory.deliveryOf(source),
    source: source.name,
    shape: 'lines',
    format: source.format as FormatChoice,
    backfill: backfillTime(request),
  } as const;
  return await deliver(setting, request, reply, parts, (answer) => sendAnswer(reply, answer));
}

async function takeOtlp(setting: Setting, request: FastifyRequest, reply: FastifyReply): Promise<FastifyReply> {
  const { source, backfill: mayBackfill } = request.right as TokenRight;
  const isJson = isOtlpJson(request);
  const shape: DeliveryShape = isJson ? 'otlp-json' : 'otlp-protobuf';
  const backfill = mayBackfill ? backfillTime(request) : undefined;
  const parts = {
    ...setting.directory.deliveryOf(source),
    source: source.name,
    shape,
    format: 'auto',
    backfill,
  } as const;
  return await deliver(setting, request, reply, parts, (answer) => {
    if (answer.kind !== 'stored') return sendAnswer(reply, answer);
    const message = answer.problems[0]?.message ?? '';
    if (!isJson)
      return reply.type('application/x-protobuf').send(Buffer.from(encodeOtlpAnswer(answer.rejected, message)));
    const partialSuccess =
      answer.rejected > 0 ? { partialSuccess: { rejectedLogRecords: answer.rejected, errorMessage: message } } : {};
    return reply.type('application/json').send(JSON.stringify(partialSuccess));
  });
}

/** What waits for followers; without the store nothing is known of it. */
async function spools({ database }: Setting): Promise<readonly Spool[]> {
  return await listSpools(database).catch(() => []);
}

const tryAgain = 'Nothing of this request was kept; send it again.';

function sendAnswer(reply: FastifyReply, answer: DeliveryAnswer): FastifyReply {
  if (answer.kind === 'larger') return refuse(reply, 413, 'The body is too long', tooLong);
  if (answer.kind === 'refused') return refuse(reply, answer.status, 'The body could not be read', answer.message);
  if (answer.kind === 'superseded') return refuse(reply, 503, 'The source is being changed', tryAgain);
  if (answer.kind === 'capped') {
    const seconds = Math.max(1, Math.ceil((answer.until - Date.now()) / 1000));
    const until = new Date(answer.until).toISOString().replace(/:\d\d\.\d+Z$/, 'Z');
    return refuse(
      reply.header('Retry-After', String(seconds)),
      429,
      'A tier takes no more today',
      `The tier ${answer.tier} has taken what its cap allows; it takes events again from ${until}. Nothing of this request was kept; send it again then.`,
    );
  }
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
  const refuseFor = (hindrance: Hindrance): FastifyReply => {
    measures.refused++;
    return refuse(reply, 503, hindrances[hindrance].title, hindrances[hindrance].detail);
  };
  const hindrance = setting.hindrance();
  if (hindrance) return refuseFor(hindrance);
  const isPacked = /^gzip$/i.test(request.headers['content-encoding'] ?? '');
  const key = request.headers['idempotency-key'];
  const body = Buffer.isBuffer(request.body) ? request.body : Buffer.alloc(0);
  const { backfill, ...rest } = parts;
  const received = backfill ?? Date.now();
  const unpacked = isPacked ? declaredSize(body) : body.length;
  // A guess suffices: lines of logs have some 200 bytes.
  const records = Math.ceil(unpacked / 200);
  const delivery: Delivery = {
    ...rest,
    backfill: backfill !== undefined,
    gzip: isPacked,
    ...(isPacked && { mostUnpacked: unpacked }),
    chunks: [body],
    refusable: true,
    received,
    ...(typeof key === 'string' && { key }),
    tapeEvery:
      backfill !== undefined
        ? setting.tapeRate.everyOfHistory(records)
        : setting.tapeRate.every(parts.source, received, records),
  };
  const answer = await handIn(queue, { delivery, bytes: body.length, unpacked, patient: false });
  if (answer.kind === 'full') {
    measures.refused++;
    return refuse(
      reply,
      429,
      'The engine is behind',
      'The queue is full. Nothing of this request was kept; send it again.',
    );
  }
  if (answer.kind === 'away') return refuseFor('away');
  return send(answer);
}
