import { atEdge } from '../../_server/edge.ts';
import { livePlan } from '../../_server/plan.ts';

export const dynamic = 'force-dynamic';

/** The live plan and its revision. */
export async function GET(): Promise<Response> {
  return await atEdge('The plan could not be read', async () => {
    return Response.json(await livePlan());
  });
}
