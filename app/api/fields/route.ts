import { atEdge } from '../../_server/edge.ts';
import { callEngine, resultOf } from '../../_server/engine.ts';

export const dynamic = 'force-dynamic';

/** The fields that recent events have, with their commonest values; for completion. */
export async function GET(): Promise<Response> {
  return await atEdge('The fields could not be read', async () => {
    const now = Date.now();
    const body = { condition: '', from: now - 3 * 3_600_000, to: now, limit: 0, fields: true };
    return await resultOf(await callEngine('/search', { body }));
  });
}
