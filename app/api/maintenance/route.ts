import { parseDuration } from '#core/events/units.ts';
import { addMaintenance, listMaintenance, removeMaintenance } from '#store/maintenance.ts';
import { atEdge, jsonOf } from '../../_server/edge.ts';
import { callEngine } from '../../_server/engine.ts';
import { maintenance, maintenanceId } from '../../_server/requests/sources.ts';
import { store } from '../../_server/store.ts';

export const dynamic = 'force-dynamic';

/** All maintenance windows. */
export async function GET(): Promise<Response> {
  return await atEdge('The windows could not be read', async () => {
    return Response.json({ windows: await listMaintenance(store()) });
  });
}

/** Announces an absence, once or again and again. */
export async function POST(request: Request): Promise<Response> {
  return await atEdge('The maintenance is not valid', async () => {
    const { title, scope, from, length, schedule } = maintenance.validateSync(await jsonOf(request), {
      abortEarly: false,
    });
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
    await removeMaintenance(store(), maintenanceId.validateSync(await jsonOf(request)).id);
    await callEngine('/senders/refresh', { body: {} });
    return Response.json({});
  });
}
