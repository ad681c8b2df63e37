import { listFleets, removeFleet, saveFleet } from '#store/fleets.ts';
import { atEdge, jsonOf } from '../../_server/edge.ts';
import { callEngine } from '../../_server/engine.ts';
import { byName, fleet } from '../../_server/requests/sources.ts';
import { store } from '../../_server/store.ts';

export const dynamic = 'force-dynamic';

/** All fleets. */
export async function GET(): Promise<Response> {
  return await atEdge('The fleets could not be read', async () => {
    return Response.json({ fleets: await listFleets(store()) });
  });
}

/** Adds a fleet, or changes the one of that name. */
export async function PUT(request: Request): Promise<Response> {
  return await atEdge('The fleet is not valid', async () => {
    await saveFleet(store(), fleet.validateSync(await jsonOf(request), { abortEarly: false }));
    await callEngine('/senders/refresh', { body: {} });
    return Response.json({});
  });
}

/** Removes a fleet; its sources stay. */
export async function DELETE(request: Request): Promise<Response> {
  return await atEdge('The fleet could not be removed', async () => {
    await removeFleet(store(), byName.validateSync(await jsonOf(request)).name);
    await callEngine('/senders/refresh', { body: {} });
    return Response.json({});
  });
}
