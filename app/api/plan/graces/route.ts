import { keepOf } from '#core/plan/retention.ts';
import { contentBetween } from '#store/segments.ts';
import { runningTierGraces } from '#store/tier-graces.ts';
import { atEdge } from '../../../_server/edge.ts';
import { livePlan } from '../../../_server/plan.ts';
import { store } from '../../../_server/store.ts';

export const dynamic = 'force-dynamic';

/** Stored events that are about to go, as a revision shortened their tier or took it out; only where some go. */
export async function GET(): Promise<Response> {
  return await atEdge('What is about to go could not be read', async () => {
    const now = Date.now();
    const { plan } = await livePlan();
    const graces = await Promise.all(
      (await runningTierGraces(store(), now)).map(async (grace) => {
        const keeps = keepOf(plan, grace.tier) ?? 0;
        const before = Math.min(grace.before, grace.until - keeps);
        const { id, tier, title, revision, until, keptFor } = grace;
        // One that was prolonged lets its events go at their own time.
        const isKept = until >= grace.before + keptFor;
        const content = await contentBetween(store(), tier, { from: now - keptFor, before });
        return { id, tier, title, revision, until, keptFor, keepsFor: keeps, isKept, ...content };
      }),
    );
    return Response.json({
      graces: graces.filter(({ events, keepsFor, keptFor }) => events > 0 && keepsFor < keptFor),
    });
  });
}
