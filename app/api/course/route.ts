import { array, number, object, string } from 'yup';
import { amountOf, shareOf } from '#core/views/volumes.ts';
import { sumLedger } from '#store/ledger.ts';
import { readAttention } from '../../_server/attention.ts';
import { readContents } from '../../_server/contents.ts';
import { atEdge } from '../../_server/edge.ts';
import { callEngine } from '../../_server/engine.ts';
import { livePlan } from '../../_server/plan.ts';
import { store } from '../../_server/store.ts';

export const dynamic = 'force-dynamic';

const live = object({
  rates: array(
    object({
      source: string().required(),
      events: number().required(),
      bytes: number().required(),
      last: number().required(),
    }),
  ).required(),
});

/** The live figures under the names of the stages. */
export async function GET(): Promise<Response> {
  return await atEdge('The figures could not be read', async () => {
    const now = Date.now();
    const [hour, contents, { revision }, engine, attention] = await Promise.all([
      sumLedger(store(), { from: now - 3_600_000, to: now + 60_000 }, ['outcome', 'parsed'], 0),
      readContents(now),
      livePlan(),
      callEngine('/live'),
      readAttention(now),
    ]);
    const ofParsing = attention.filter(({ kind }) => kind === 'parse-failures' || kind === 'set-aside').length;
    const rates = engine.ok ? live.validateSync(await engine.json()).rates : [];
    const arrived = amountOf(hour);
    return Response.json({
      at: now,
      engine: engine.ok,
      eventsPerSecond: rates.reduce((sum, rate) => sum + rate.events, 0),
      parsedShare: shareOf(amountOf(hour.filter((sum) => sum.parsed)).events, arrived.events),
      keptShare: shareOf(amountOf(hour.filter((sum) => sum.outcome === 'kept')).bytes, arrived.bytes),
      storedEvents: contents.reduce((sum, tier) => sum + tier.events, 0),
      revision,
      needs: { sources: attention.length - ofParsing, parsing: ofParsing },
    });
  });
}
