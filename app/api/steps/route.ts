import { atEdge } from '../../_server/edge.ts';
import { callEngine } from '../../_server/engine.ts';

export const dynamic = 'force-dynamic';

/** What each step of the live plan has done since it was published. */
export async function GET(): Promise<Response> {
  return await atEdge('The steps could not be read', async () => {
    return await callEngine('/steps');
  });
}
