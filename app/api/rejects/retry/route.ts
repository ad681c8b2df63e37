import { atEdge, jsonOf } from '../../../_server/edge.ts';
import { callEngine } from '../../../_server/engine.ts';
import { rejectsOf } from '../../../_server/requests/plan.ts';

export const dynamic = 'force-dynamic';

/** Sends the rejects of one reason (empty: all) through the live plan again, each once. */
export async function POST(request: Request): Promise<Response> {
  return await atEdge('The rejects could not be tried again', async () => {
    const { reason } = rejectsOf.validateSync(await jsonOf(request));
    return await callEngine('/rejects/retry', { body: { reason } });
  });
}
