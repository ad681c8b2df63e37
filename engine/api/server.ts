import { createHash, timingSafeEqual } from 'node:crypto';
import Fastify, { type FastifyInstance, type FastifyReply, type FastifyRequest } from 'fastify';
import { array, boolean, mixed, number, object, string, ValidationError } from 'yup';
import { compileCondition } from '#core/conditions/condition.ts';
import { checkPlan } from '#core/plan/check.ts';
import { parseSummary } from '#core/search/parse-summary.ts';
import type { Database } from '#store/database.ts';
import { StoreFault } from '#store/fault.ts';
import type { HealthRegistry } from '../health/registry.ts';
import type { IntakeQueue } from '../intake/queue.ts';
import { readAgain } from '../intake/read-again.ts';
import type { Senders } from '../intake/senders.ts';
import type { SourceBounds } from '../intake/source-bounds.ts';
import type { Log } from '../log.ts';
import type { Measures } from '../measures.ts';
import type { PlanHolder } from '../plan.ts';
import type { Rewinds } from '../rewind.ts';
import { rehearseAgain, rehearseRejects, rehearseTape } from '../search/run-rehearsal.ts';
import { runSearch } from '../search/run-search.ts';
import type { LookupTables } from '../workers/lookup-tables.ts';
import type { Pools } from '../workers/pools.ts';
import { addPlanRoutes } from './plan-routes.ts';
import { addQuarantineRoutes } from './quarantine-routes.ts';
import { addSourceRoutes } from './source-routes.ts';

export interface ApiSetting {
  readonly database: Database;
  readonly pools: Pools;
  readonly plan: PlanHolder;
  readonly senders: Senders;
  readonly measures: Measures;
  readonly health: HealthRegistry;
  readonly queue: IntakeQueue;
  readonly lookups: LookupTables;
  readonly bounds: SourceBounds;
  readonly rewinds: Rewinds;
  /** The key with which masked values are hashed, hexadecimal. */
  readonly maskKey: string;
  /** What callers prove themselves with; empty: nobody can. */
  readonly secret: string;
  readonly log: Log;
}

const searchBody = object({
  condition: string().defined().max(20_000),
  from: number().required(),
  to: number().required(),
  limit: number().integer().min(0).max(1_000).default(100),
  buckets: number().integer().min(0).max(1_000).default(0),
  fields: boolean().default(false),
  summary: string().max(5_000).default(''),
  tiers: array(string().required()),
});

/** Whether two texts are the same, in a time that does not tell how much of them is. */
function isSame(a: string, b: string): boolean {
  const digest = (text: string): Buffer => createHash('sha256').update(text).digest();
  return timingSafeEqual(digest(a), digest(b));
}

/** The engine's internal API, for the web process on the same machine, which knows the secret. */
export function apiServer(setting: ApiSetting): FastifyInstance {
  const app = Fastify({ logger: false, bodyLimit: 8_000_000 });
  app.addHook('onRequest', async (request, reply) => {
    if (!/^(127\.0\.0\.1|localhost)(:\d+)?$/.test(request.headers.host ?? ''))
      return reply.code(403).send({ detail: 'This address is for this machine only.' });
    const shown = /^Bearer (\S+)$/.exec(request.headers.authorization ?? '')?.[1] ?? '';
    if (setting.secret === '' || !isSame(shown, setting.secret))
      return reply.code(401).send({ detail: 'This address is for the web process, which shows ENGINE_SECRET.' });
    return undefined;
  });
  app.setErrorHandler((error: Error & { statusCode?: number }, _request, reply) => {
    if (error instanceof ValidationError) {
      const problems = (error.inner.length > 0 ? error.inner : [error]).map(({ path = '', message }) => ({
        path,
        message,
      }));
      return reply.code(400).send({ detail: error.errors.join('; '), problems });
    }
    const { code, detail } = faultAnswer(error);
    if (code === 500) setting.log.error({ err: error }, 'The internal API failed.');
    return reply.code(code).send({ detail });
  });
  app.post('/search', (request, reply) => search(setting, request, reply));
  app.post('/rehearsal', (request, reply) => rehearse(setting, request, reply));
  app.post('/publish', (request, reply) => publish(setting, request, reply));
  app.get('/live', async () => ({
    ...setting.plan.current(),
    rates: setting.measures.rates(Date.now()),
    lost: setting.measures.lost,
    effect: setting.measures.effect,
  }));
  app.post('/senders/refresh', async () => {
    await setting.senders.refresh();
    await setting.lookups.refresh(setting.senders.tables);
    return {};
  });
  addSourceRoutes(app, setting);
  addPlanRoutes(app, setting);
  addQuarantineRoutes(app, setting);
  return app;
}

/** What a caller is told of a fault: nothing that may hold data, unless it is the caller's own doing. */
function faultAnswer(error: Error & { statusCode?: number }): { readonly code: number; readonly detail: string } {
  if (error instanceof StoreFault) return { code: error.kind === 'away' ? 503 : 500, detail: error.message };
  if (error.statusCode !== undefined && error.statusCode < 500)
    return { code: error.statusCode, detail: error.message };
  return { code: 500, detail: 'The engine failed at this; its log says more.' };
}

/** Writes progress and at last the result as lines of JSON; ends early when the caller hangs up. */
async function stream(
  setting: ApiSetting,
  reply: FastifyReply,
  work: (signal: AbortSignal, progress: (value: object) => void) => Promise<object>,
): Promise<FastifyReply> {
  const abort = new AbortController();
  reply.hijack();
  reply.raw.writeHead(200, { 'content-type': 'application/x-ndjson', 'cache-control': 'no-store' });
  reply.raw.on('close', () => abort.abort());
  const write = (value: object): void => {
    if (!abort.signal.aborted) reply.raw.write(`${JSON.stringify(value)}\n`);
  };
  try {
    write({ result: await work(abort.signal, (value) => write({ progress: value })) });
  } catch (error) {
    if (!abort.signal.aborted) {
      setting.log.error({ err: error }, 'A search or rehearsal failed.');
      write({ problem: faultAnswer(error instanceof Error ? error : new Error(String(error))).detail });
    }
  }
  reply.raw.end();
  return reply;
}

async function search(setting: ApiSetting, request: FastifyRequest, reply: FastifyReply): Promise<FastifyReply> {
  const { tiers, ...query } = searchBody.validateSync(request.body);
  const condition = compileCondition(query.condition);
  if (!condition.ok)
    return reply
      .code(400)
      .send({ detail: condition.problem.message, problem: { in: 'condition', ...condition.problem } });
  const summary = query.summary === '' ? undefined : parseSummary(query.summary);
  if (summary && !summary.ok)
    return reply.code(400).send({ detail: summary.problem.message, problem: { in: 'summary', ...summary.problem } });
  if (query.from >= query.to) return reply.code(400).send({ detail: 'The window ends before it begins.' });
  setting.measures.searches++;
  return await stream(setting, reply, (signal, progress) =>
    runSearch(setting.database, setting.pools, query, tiers, setting.senders.fleets, signal, progress),
  );
}

const rehearsalBody = object({
  draft: mixed().required(),
  /** Rejects of one reason instead of the tape. */
  rejects: object({ reason: string().defined() }).default(undefined),
  /** What a source of files or objects holds, from a time on, instead of the tape. */
  again: object({ source: string().required(), from: number().min(0).required() }).default(undefined),
});

async function rehearse(setting: ApiSetting, request: FastifyRequest, reply: FastifyReply): Promise<FastifyReply> {
  const { draft, rejects, again } = rehearsalBody.validateSync(request.body);
  const checked = checkPlan(draft);
  if (!checked.ok) return reply.code(400).send({ detail: 'The draft is not valid.', problems: checked.problems });
  const { database, pools, senders } = setting;
  const source = again && senders.source(again.source);
  const deliveries = source && readAgain(senders, source, setting.bounds);
  if (again && !deliveries)
    return reply.code(409).send({ detail: 'Only followed files and picked-up objects can be read again.' });
  const plans = { live: setting.plan.current().plan, draft: checked.plan, tables: senders.tables };
  return await stream(setting, reply, (signal, progress) => {
    const run = { database, pools, ...plans, signal };
    if (rejects) return rehearseRejects(run, rejects.reason);
    if (again && deliveries) return rehearseAgain(run, deliveries, again.from);
    return rehearseTape(run, (done, all) => progress({ done, all }));
  });
}

async function publish(setting: ApiSetting, request: FastifyRequest, reply: FastifyReply): Promise<FastifyReply> {
  const body = object({
    plan: mixed().required(),
    note: string().trim().max(1000).required('Say in a note what the change is for.'),
    predicted: mixed().nullable(),
  }).validateSync(request.body);
  const answer = await setting.plan.publish(body.plan, body.note, body.predicted);
  return answer.ok
    ? reply.send(answer)
    : reply.code(400).send({ detail: 'The plan is not valid.', problems: answer.problems });
}
