import { createHash } from 'node:crypto';
import type { IncomingMessage } from 'node:http';
import { deflateRawSync } from 'node:zlib';
import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify';
import { array, number, object, string } from 'yup';
import { csvColumns } from '#core/formats/csv-columns.ts';
import type { FormatChoice } from '#core/formats/index.ts';
import { keyedHash } from '#core/masks/keyed-hash.ts';
import { compileMasks } from '#core/masks/mask.ts';
import { maskBatch } from '#core/masks/mask-batch.ts';
import { tryObjectsAgain } from '#store/positions.ts';
import { listTape, readTape, rewriteTape } from '#store/tape.ts';
import { BodyBudget, type BodyRefusal } from '../intake/body-budget.ts';
import type { Delivery, DeliveryAnswer } from '../intake/delivery.ts';
import { declaredSize, isGzip } from '../intake/gzip.ts';
import { removeSource } from '../remove-source.ts';
import { tapedBatch, tapedEvent, tapedRecords } from '../workers/tape.ts';
import { healthAnswer } from './health-view.ts';
import type { ApiSetting } from './server.ts';

/** What the engine knows of sources and does with them: health, tape, rewinding, uploaded samples. */
export function addSourceRoutes(app: FastifyInstance, setting: ApiSetting): void {
  const budget = new BodyBudget();
  app.addContentTypeParser('application/octet-stream', async (_request: FastifyRequest, payload: IncomingMessage) => {
    const read = await budget.read(payload, longestUpload);
    if ('refused' in read) throw new UploadRefused(read.refused);
    // It is counted again while it waits.
    budget.release(read.bytes.length);
    return read.bytes;
  });
  app.get('/health', async (request) => {
    const { source } = object({ source: string() }).validateSync(request.query);
    return healthAnswer(setting.health, setting.senders, Date.now(), source);
  });
  app.get('/heard', async (request) => {
    const { source, days } = object({
      source: string().required(),
      days: number().integer().min(1).max(14).default(7),
    }).validateSync(request.query);
    const now = Date.now();
    return { hours: await setting.health.heard(source, now - days * 86_400_000, now) };
  });
  app.post('/emitters/refresh', async () => {
    await setting.health.refreshPlans();
    return {};
  });
  app.get('/tape', (request) => tapeSample(setting, request));
  app.post('/tape/scrub', (request, reply) => scrubTape(setting, request, reply));
  app.post('/rewind', (request, reply) => rewindSource(setting, request, reply));
  app.post('/sources/remove', async (request, reply) => {
    const { source } = object({ source: string().required() }).validateSync(request.body);
    await setting.senders.refresh();
    if (!setting.senders.source(source)) return reply.code(404).send({ detail: `There is no source ${source}.` });
    await removeSource(setting, source);
    return {};
  });
  app.post('/sources/check', async (request) => {
    const { globs, url } = object({ globs: array(string().required()), url: string() }).validateSync(request.body);
    return { problem: setting.bounds.problemOf({ globs, url }) ?? '' };
  });
  app.post('/sources/objects/again', async (request) => {
    const { source, identity } = object({ source: string().required(), identity: string() }).validateSync(request.body);
    await tryObjectsAgain(setting.database, source, identity);
    return {};
  });
  app.post('/upload', { bodyLimit: longestUpload }, (request, reply) => upload(setting, request, reply));
}

/** Longest file that can be uploaded, in bytes. */
const longestUpload = 64_000_000;

/** An upload that was not read to its end. */
class UploadRefused extends Error {
  readonly statusCode: number;

  constructor(refused: BodyRefusal) {
    super(
      refused === 'too-long'
        ? `A sample may have ${longestUpload / 1e6} MB. Nothing of it was kept.`
        : 'Too much is being uploaded at once. Nothing of it was kept; try again.',
    );
    this.statusCode = refused === 'too-long' ? 413 : 429;
  }
}

/** Chunks of the tape read together. */
const chunksAtOnce = 10;

/** Raw lines of a source from the tape, newest first. */
async function tapeSample(setting: ApiSetting, request: FastifyRequest): Promise<object> {
  const { source, limit } = object({
    source: string().required(),
    limit: number().integer().min(1).max(5_000).default(200),
  }).validateSync(request.query);
  const now = Date.now();
  const lines: { received: number; weight: number; format: string; raw: string }[] = [];
  const listed = await listTape(setting.database, { from: now - 25 * 3_600_000, to: now + 60_000 }, source);
  for (let i = 0; i < listed.length && lines.length < limit; i += chunksAtOnce) {
    const ids = listed.slice(i, i + chunksAtOnce).map(({ id }) => id);
    for (const chunk of await readTape(setting.database, ids))
      for (const [received, weight, format, raw] of tapedRecords(chunk)) lines.push({ received, weight, format, raw });
  }
  return { lines: lines.sort((a, b) => b.received - a.received).slice(0, limit) };
}

/** Writes what is on the tape of a source anew, with the source's masks. */
async function scrubTape(setting: ApiSetting, request: FastifyRequest, reply: FastifyReply): Promise<object> {
  const { source } = object({ source: string().required() }).validateSync(request.body);
  const known = setting.senders.source(source);
  if (!known) return reply.code(404).send({ detail: `There is no source ${source}.` });
  const masks = compileMasks(known.settings.masks ?? [], keyedHash(Buffer.from(setting.maskKey, 'hex')));
  let changed = 0;
  for (const { id } of await listTape(setting.database, { from: 0, to: Date.now() + 86_400_000 }, source)) {
    const [chunk] = await readTape(setting.database, [id]);
    if (!chunk) continue;
    let touched = 0;
    const lines = tapedRecords(chunk).flatMap((record) => {
      const [received, weight] = record;
      const batch = tapedBatch(source, [record]);
      // What cannot be read as an event cannot be masked as one: it leaves the tape.
      if (batch.rows === 0) touched++;
      if (batch.rows === 0) return [];
      const masked = maskBatch(batch, masks);
      if (masked === batch) return [JSON.stringify(record)];
      touched++;
      return [JSON.stringify([received, weight, ...tapedEvent(masked, 0)])];
    });
    if (touched === 0) continue;
    changed += touched;
    await rewriteTape(setting.database, id, deflateRawSync(lines.join('\n'), { level: 1 }));
  }
  return { changed };
}

async function rewindSource(setting: ApiSetting, request: FastifyRequest, reply: FastifyReply): Promise<object> {
  const { source, from } = object({ source: string().required(), from: number().min(0).required() }).validateSync(
    request.body,
  );
  const known = setting.senders.source(source);
  if (!known) return reply.code(404).send({ detail: `There is no source ${source}.` });
  if (known.kind !== 'files' && known.kind !== 'objects') {
    return reply.code(409).send({ detail: 'Only followed files and picked-up objects can be read again.' });
  }
  return await setting.rewinds.begin(known, from);
}

/** Takes a file that someone uploaded as a sample; its events count as history, at their own times. */
async function upload(setting: ApiSetting, request: FastifyRequest, reply: FastifyReply): Promise<object> {
  const { source, name } = object({ source: string().required(), name: string().default('') }).validateSync(
    request.query,
  );
  const known = setting.senders.source(source);
  if (!known) return reply.code(404).send({ detail: `There is no source ${source}.` });
  const body = Buffer.isBuffer(request.body) ? request.body : Buffer.alloc(0);
  const gzip = isGzip(body);
  const isCsv = /\.csv$/i.test(name);
  const text = isCsv ? body.toString('utf8') : '';
  const columns = isCsv ? csvColumns(text.split(/\r?\n/, 200)) : undefined;
  const delivery: Delivery = {
    ...setting.senders.deliveryOf(known),
    source,
    shape: 'lines',
    format: (columns ? 'text' : known.format) as FormatChoice,
    gzip,
    ...(gzip && { mostUnpacked: declaredSize(body) }),
    chunks: [columns ? body.subarray(body.indexOf(10) + 1) : body],
    received: Date.now(),
    backfill: true,
    key: `upload ${createHash('sha256').update(body).digest('hex')}`,
    tapeEvery: 1,
    ...(columns && { columns }),
  };
  const answer = await new Promise<DeliveryAnswer | 'full'>((resolve) => {
    const unpacked = gzip ? declaredSize(body) : body.length;
    const taken = setting.queue.offer({
      delivery,
      bytes: body.length,
      unpacked,
      answer: resolve,
      storeAway: () => true,
    });
    if (!taken) resolve('full');
  });
  if (answer === 'full') return reply.code(429).send({ detail: 'The engine is behind. Nothing was kept; try again.' });
  if (answer.kind === 'larger') return reply.code(413).send({ detail: 'The file is too long.' });
  if (answer.kind === 'refused') return reply.code(answer.status).send({ detail: answer.message });
  return answer;
}
