import { amountOf } from '#core/views/volumes.ts';
import { sumLedger } from '#store/ledger.ts';
import { readContents } from '../../_server/contents.ts';
import { atEdge } from '../../_server/edge.ts';
import { livePlan } from '../../_server/plan.ts';
import { store } from '../../_server/store.ts';

export const dynamic = 'force-dynamic';

/** What each tier really received in the last day, what its exclusions removed, and what it holds. */
export async function GET(): Promise<Response> {
  return await atEdge('The tiers could not be read', async () => {
    const now = Date.now();
    const [{ plan }, sums, contents] = await Promise.all([
      livePlan(),
      sumLedger(store(), { from: now - 86_400_000, to: now + 3_600_000 }, ['outcome', 'tier', 'rule'], 0),
      readContents(now),
    ]);
    const pick = (outcome: readonly string[], tier: string) =>
      sums.filter((sum) => outcome.includes(sum.outcome ?? '') && sum.tier === tier);
    return Response.json({
      arrived: amountOf(sums),
      passing: amountOf(sums.filter((sum) => sum.outcome === 'passing')),
      rejected: amountOf(sums.filter((sum) => sum.outcome === 'rejected' || sum.outcome === 'discarded')),
      tiers: plan.tiers.map((tier) => ({
        id: tier.id,
        kept: amountOf(pick(['kept'], tier.id)),
        removed: amountOf(pick(['excluded', 'sampled-out'], tier.id)),
        exclusions: (tier.exclusions ?? []).map(({ id }) => ({
          id,
          removed: amountOf(pick(['excluded', 'sampled-out'], tier.id).filter((sum) => sum.rule === id)),
        })),
        holds: contents.find((content) => content.tier === tier.id) ?? null,
      })),
    });
  });
}
