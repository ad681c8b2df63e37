import { object, string } from 'yup';
import { listFleets, removeFleet, saveFleet } from '#store/fleets.ts';
import { atEdge } from '../../_server/edge.ts';
import { callEngine } from '../../_server/engine.ts';
import { conditionShape } from '../../_server/source-settings.ts';
import { store } from '../../_server/store.ts';

export const dynamic = 'force-dynamic';

/** All fleets. */
export async function GET(): Promise<Response> {
  return Response.json({ fleets: await listFleets(store()) });
}

const body = object({
  name: string()
    .matches(/^[a-z0-9][a-z0-9-]{0,62}$/, 'a name is made of small letters, digits and dashes')
    .required(),
  condition: conditionShape.required('Say which labels its sources have, such as site = piers.'),
});

/** Adds a fleet, or changes the one of that name. */
export async function PUT(request: Request): Promise<Response> {
  return await atEdge('The fleet is not valid', async () => {
    await saveFleet(store(), body.validateSync(await request.json(), { abortEarly: false }));
    await callEngine('/senders/refresh', { body: {} });
    return Response.json({});
  });
}

export async function DELETE(request: Request): Promise<Response> {
  return await atEdge('The fleet could not be removed', async () => {
    await removeFleet(store(), object({ name: string().required() }).validateSync(await request.json()).name);
    await callEngine('/senders/refresh', { body: {} });
    return Response.json({});
  });
}
