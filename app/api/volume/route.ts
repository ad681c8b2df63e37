import { number, object, ValidationError } from 'yup';
import { parseTime } from '#core/conditions/times.ts';
import { parseDuration } from '#core/events/units.ts';
import { type LedgerKey, ledgerKeys, sumLedger } from '#store/ledger.ts';
import { atEdge } from '../../_server/edge.ts';
import { volumeQuery } from '../../_server/requests/search.ts';
import { store } from '../../_server/store.ts';

export const dynamic = 'force-dynamic';

/** Sums of the volume ledger: `from`, `to` (times as in a window), `by` (comma-separated keys), `every` (a duration). */
export async function GET(request: Request): Promise<Response> {
  return await atEdge('The question is not valid', async () => {
    const values = volumeQuery.validateSync(Object.fromEntries(new URL(request.url).searchParams));
    const now = Date.now();
    const window = object({ from: number().required(), to: number().required() }).validateSync({
      from: parseTime(values.from, now),
      to: parseTime(values.to, now),
    });
    const by = values.by.split(',').filter((key): key is LedgerKey => (ledgerKeys as readonly string[]).includes(key));
    const every = values.every === '' ? 0 : parseDuration(values.every);
    if (every === undefined || every < 0)
      throw new ValidationError(`${values.every} is no duration, such as 5m`, values.every, 'every');
    return Response.json({
      ...window,
      sums: await sumLedger(store(), window, by, every),
    });
  });
}
