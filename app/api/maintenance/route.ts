import { Cron } from 'croner';
import { number, object, string } from 'yup';
import { parseDuration } from '#core/events/units.ts';
import { addMaintenance, listMaintenance, removeMaintenance } from '#store/maintenance.ts';
import { atEdge } from '../../_server/edge.ts';
import { callEngine } from '../../_server/engine.ts';
import { conditionShape } from '../../_server/source-settings.ts';
import { store } from '../../_server/store.ts';

export const dynamic = 'force-dynamic';

function isSchedule(text: string | undefined): boolean {
  if (!text) return true;
  try {
    new Cron(text, { timezone: 'UTC' });
    return true;
  } catch {
    return false;
  }
}

/** All maintenance windows. */
export async function GET(): Promise<Response> {
  return Response.json({ windows: await listMaintenance(store()) });
}

const body = object({
  title: string().trim().required('Say what the maintenance is.').max(200),
  scope: conditionShape.required('Say who is away, such as site = pier-4.'),
  from: number().required(),
  /** How long it lasts: `2h`. */
  length: string().required(),
  /** Cron expression for windows that come again; empty for a single one. */
  schedule: string()
    .default('')
    .test('schedule', 'a schedule is a cron expression of five parts, such as 0 2 * * 0', isSchedule),
});

/** Announces an absence, once or again and again. */
export async function POST(request: Request): Promise<Response> {
  return await atEdge('The maintenance is not valid', async () => {
    const { title, scope, from, length, schedule } = body.validateSync(await request.json(), { abortEarly: false });
    const duration = parseDuration(length) ?? 0;
    if (duration < 60_000) throw new SyntaxError(`${length} is no duration of a minute or more, such as 2h`);
    const to = schedule === '' ? from + duration : null;
    await addMaintenance(store(), { title, scope, from, to, schedule, length: duration });
    await callEngine('/senders/refresh', { body: {} });
    return Response.json({}, { status: 201 });
  });
}

/** Takes a window out. */
export async function DELETE(request: Request): Promise<Response> {
  return await atEdge('The maintenance could not be removed', async () => {
    await removeMaintenance(store(), object({ id: number().required() }).validateSync(await request.json()).id);
    await callEngine('/senders/refresh', { body: {} });
    return Response.json({});
  });
}
