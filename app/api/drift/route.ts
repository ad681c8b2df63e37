import { listDrifts } from '#store/drifts.ts';
import { atEdge } from '../../_server/edge.ts';
import { store } from '../../_server/store.ts';

export const dynamic = 'force-dynamic';

/** What changed in what sources send, over the last week. */
export async function GET(request: Request): Promise<Response> {
  return await atEdge('The changes could not be read', async () => {
    const source = new URL(request.url).searchParams.get('source') ?? undefined;
    return Response.json({ drifts: await listDrifts(store(), Date.now() - 7 * 86_400_000, source) });
  });
}
