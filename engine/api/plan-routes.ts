import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify';
import { mixed, number, object, string } from 'yup';
import { checkPlan } from '#core/plan/check.ts';
import { answerLookups, lookupsShape } from '#core/steps/lookups.ts';
import { retryRejects } from '../retry.ts';
import { runCatalogue } from '../search/run-catalogue.ts';
import { placeOf } from '../workers/places.ts';
import type { ApiSetting } from './server.ts';

/** What the engine knows of the plan at work: measures of its steps, the fields it makes, and its rejects. */
export function addPlanRoutes(app: FastifyInstance, setting: ApiSetting): void {
  app.get('/steps', async () => setting.measures.steps ?? { revision: 0, since: Date.now(), steps: {} });
  app.post('/fields', (request, reply) => fields(setting, request, reply));
  app.post('/plan/text', async (request, reply) => {
    const { text } = object({ text: string().required().max(1_000_000) }).validateSync(request.body);
    const read = await setting.pools.planText({ text });
    return read ?? reply.code(400).send({ detail: 'The text takes too long to be read. Nothing was kept.' });
  });
  app.post('/lookups', async (request) =>
    answerLookups(lookupsShape.validateSync(request.body), {
      table: (name) => setting.lookups.get(name),
      place: placeOf,
    }),
  );
  app.post('/rejects/retry', async (request) => {
    const body = object({
      reason: string().defined().default(''),
      source: string(),
      from: number().default(0),
      to: number().default(Number.MAX_SAFE_INTEGER),
    }).validateSync(request.body);
    return await retryRejects({ ...setting, tables: setting.senders.tables }, body);
  });
}

async function fields(setting: ApiSetting, request: FastifyRequest, reply: FastifyReply): Promise<object> {
  const { plan } = object({ plan: mixed() }).validateSync(request.body);
  const { database, pools, senders } = setting;
  if (plan === undefined) return await runCatalogue(database, pools, setting.plan.current().plan, senders.tables);
  const checked = checkPlan(plan);
  if (!checked.ok) return reply.code(400).send({ detail: 'The plan is not valid.', problems: checked.problems });
  return await runCatalogue(database, pools, checked.plan, senders.tables);
}
