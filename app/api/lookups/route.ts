import { atEdge, jsonOf } from '../../_server/edge.ts';
import { callEngine } from '../../_server/engine.ts';

export const dynamic = 'force-dynamic';

/** Looks keys up in tables, and addresses among the places: what steps that are tried out in the browser ask for. */
export async function POST(request: Request): Promise<Response> {
  return await atEdge('The lookups are not valid', async () =>
    callEngine('/lookups', { body: await jsonOf(request), signal: request.signal }),
  );
}
