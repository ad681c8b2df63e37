import { atEdge } from '../../_server/edge.ts';
import { problem } from '../../_server/engine.ts';
import { readHealth } from '../../_server/health.ts';

export const dynamic = 'force-dynamic';

/** The health of all sources and emitters, or of those of one source. */
export async function GET(request: Request): Promise<Response> {
  return await atEdge('Health could not be read', async () => {
    const health = await readHealth(new URL(request.url).searchParams.get('source') ?? undefined);
    return health
      ? Response.json(health)
      : problem(503, 'The engine does not answer', 'Health is known when it is back.');
  });
}
