import { atEdge } from '../../_server/edge.ts';
import { callEngine } from '../../_server/engine.ts';

export const dynamic = 'force-dynamic';

/** Deliveries that could not be stored and were set aside as they came. */
export async function GET(): Promise<Response> {
  return await atEdge('What was set aside could not be read', async () => await callEngine('/quarantine'));
}
