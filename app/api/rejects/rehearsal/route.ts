import { atEdge, jsonOf } from '../../../_server/edge.ts';
import { callEngine, resultOf } from '../../../_server/engine.ts';
import { draftView, livePlan } from '../../../_server/plan.ts';
import { rejectsOf } from '../../../_server/requests/plan.ts';

export const dynamic = 'force-dynamic';

/** Runs the draft (or, without one, the live plan) over the rejects of one reason alone. */
export async function POST(request: Request): Promise<Response> {
  return await atEdge('The rejects could not be rehearsed', async () => {
    const { reason } = rejectsOf.validateSync(await jsonOf(request));
    const plan = (await draftView())?.plan ?? (await livePlan()).plan;
    return await resultOf(
      await callEngine('/rehearsal', { body: { draft: plan, rejects: { reason } }, signal: request.signal }),
    );
  });
}
