import { diffPlans } from '#core/plan/diff.ts';
import { listDiscardedDrafts } from '#store/plans.ts';
import { atEdge } from '../../../_server/edge.ts';
import { livePlan, parsePlan } from '../../../_server/plan.ts';
import { store } from '../../../_server/store.ts';

export const dynamic = 'force-dynamic';

/** The drafts that were thrown away within a day, the latest first, with what they would change now. */
export async function GET(): Promise<Response> {
  return await atEdge('The discarded drafts could not be read', async () => {
    const [drafts, live] = await Promise.all([listDiscardedDrafts(store(), Date.now()), livePlan()]);
    return Response.json({
      drafts: drafts.map(({ id, discardedAt, plan }) => ({
        id,
        discardedAt,
        changes: diffPlans(live.plan, parsePlan(plan)),
      })),
    });
  });
}
