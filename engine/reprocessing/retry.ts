import { rejectsTier } from '#core/routing/built-in-tiers.ts';
import type { Database } from '#store/database.ts';
import { exchangeSegments, listSegments } from '#store/events/segments.ts';
import { addShapeVolume } from '#store/events/shapes.ts';
import { addToLedger } from '#store/volume/ledger.ts';
import type { PlanHolder } from '../plan/live-plan.ts';
import type { PlanSwitches } from '../plan/plan-switches.ts';
import type { Pools } from '../workers/pools.ts';

/** Sends rejects through the live plan again, each once: they leave the rejects in the transaction that stores them. */
export async function retryRejects(
  setting: {
    readonly database: Database;
    readonly pools: Pools;
    readonly plan: PlanHolder;
    readonly switches: PlanSwitches;
    readonly tables: Readonly<Record<string, number>>;
  },
  of: { readonly reason: string; readonly source?: string | undefined; readonly from: number; readonly to: number },
): Promise<{ readonly retried: number }> {
  const { database, pools, plan, switches, tables } = setting;
  const { revision } = plan.current();
  let retried = 0;
  for (const segment of await listSegments(database, of, [rejectsTier.id])) {
    if (of.source !== undefined && segment.source !== of.source) continue;
    const { id, tier, source, events, bytes } = segment;
    const now = Date.now();
    const result = await pools.background({
      kind: 'retry',
      segment: { id, tier, source, events, bytes },
      reason: of.reason,
      revision,
      tables,
      switched: switches.at(now),
      now,
    });
    if (result.retried === 0) continue;
    const done = await exchangeSegments(database, {
      ...{ old: [id], added: result.segments, now },
      alongside: async (tx) => {
        await addToLedger(tx, result.ledger);
        await addShapeVolume(tx, result.shapes);
      },
    });
    if (done) retried += result.retried;
  }
  return { retried };
}
