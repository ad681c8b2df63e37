import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify';
import { number, object } from 'yup';
import { addToLedger } from '#store/ledger.ts';
import { listQuarantine, readQuarantined, removeQuarantined } from '#store/quarantine.ts';
import { takenBack, takenBackEntries } from '../commit/quarantine.ts';
import type { DeliveryAnswer } from '../intake/delivery.ts';
import type { ApiSetting } from './server.ts';

const byId = object({ id: number().integer().min(1).required() });

/** Deliveries that were set aside: what there is, trying one again, and letting one go. */
export function addQuarantineRoutes(app: FastifyInstance, setting: ApiSetting): void {
  app.get('/quarantine', async () => ({ deliveries: await listQuarantine(setting.database) }));
  app.post('/quarantine/retry', (request, reply) => retry(setting, request, reply));
  app.post('/quarantine/remove', async (request, reply) => {
    const { id } = byId.validateSync(request.body);
    return (await removeQuarantined(setting.database.db, id)) ? {} : gone(reply);
  });
}

function gone(reply: FastifyReply): FastifyReply {
  return reply.code(404).send({ detail: 'This delivery is not set aside any more.' });
}

/** Sends a delivery through the intake once more. It is taken out first, and set aside anew where it fails again. */
async function retry(setting: ApiSetting, request: FastifyRequest, reply: FastifyReply): Promise<unknown> {
  const { id } = byId.validateSync(request.body);
  const row = await readQuarantined(setting.database, id);
  if (!row) return gone(reply);
  const { key: _, ...delivery } = takenBack(row);
  // The key names the row, so that a retry whose answer was lost stores nothing twice.
  const waiting = { delivery: { ...delivery, key: `quarantine ${id}` }, bytes: row.bytes };
  const answer = await new Promise<DeliveryAnswer | 'full' | 'away'>((resolve) => {
    const storeAway = (): boolean => {
      resolve('away');
      return false;
    };
    if (!setting.queue.offer({ ...waiting, answer: resolve, storeAway })) resolve('full');
  });
  if (answer === 'full' || answer === 'away')
    return reply
      .code(503)
      .send({ detail: 'The engine or its store is busy. The delivery stays set aside; try again.' });
  if (answer.kind !== 'stored') return reply.code(409).send({ detail: 'It cannot be stored. It stays set aside.' });
  await setting.database.db.transaction(async (tx) => {
    if (await removeQuarantined(tx, id)) await addToLedger(tx, takenBackEntries(row));
  });
  return { accepted: answer.accepted, rejected: answer.rejected };
}
