import { overviewView } from '#core/views/overview.ts';
import { sumLedger } from '#store/ledger.ts';
import { readAttention } from '../../_server/attention.ts';
import { atEdge } from '../../_server/edge.ts';
import { livePlan } from '../../_server/plan.ts';
import { store } from '../../_server/store.ts';

export const dynamic = 'force-dynamic';

const hour = 3_600_000;
const day = 86_400_000;

/** Where everything flows, a day, and what needs someone. */
export async function GET(): Promise<Response> {
  return await atEdge('The overview could not be read', async () => {
    const now = Date.now();
    const database = store();
    const { plan, revision } = await livePlan();
    const midnight = Math.floor(now / day) * day;
    const [lastDay, slices, attention] = await Promise.all([
      sumLedger(database, { from: now - day, to: now + hour }, ['source', 'parsed', 'outcome', 'tier'], 0),
      sumLedger(database, { from: midnight - 13 * day, to: now + hour }, ['outcome', 'tier'], day),
      readAttention(now),
    ]);
    return Response.json({ ...overviewView(lastDay, slices, plan), attention, revision, at: now });
  });
}
