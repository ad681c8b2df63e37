import { ValidationError } from 'yup';
import { parseTime } from '#core/conditions/times.ts';
import { atEdge, jsonOf } from '../../_server/edge.ts';
import { callEngine, resultOf } from '../../_server/engine.ts';
import { searchBody } from '../../_server/requests/search.ts';

export const dynamic = 'force-dynamic';

/**
 * Searches the stored events. With `Accept: application/x-ndjson` progress comes as lines before the result;
 * closing the connection cancels the search.
 */
export async function POST(request: Request): Promise<Response> {
  return await atEdge('The search is not valid', async () => {
    const { show, from, to, ...rest } = searchBody.validateSync(await jsonOf(request));
    const now = Date.now();
    const window = { from: timeOf(from, now), to: timeOf(to, now) };
    const answer = await callEngine('/search', { body: { ...rest, ...window, summary: show }, signal: request.signal });
    if (!answer.ok || !request.headers.get('accept')?.includes('application/x-ndjson')) return await resultOf(answer);
    return new Response(answer.body, {
      headers: { 'content-type': 'application/x-ndjson', 'cache-control': 'no-store' },
    });
  });
}

function timeOf(value: string | number, now: number): number {
  if (typeof value === 'number') return value;
  const parsed = parseTime(value, now);
  if (parsed === undefined) throw new ValidationError(`${value} is no time: write -45m, now or 2026-11-24T08:15`);
  return parsed;
}
