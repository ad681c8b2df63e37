import { atEdge } from '../../_server/edge.ts';
import { callEngine } from '../../_server/engine.ts';

export const dynamic = 'force-dynamic';

/** Raw lines of a source from the tape, newest first. */
export async function GET(request: Request): Promise<Response> {
  return await atEdge('The tape could not be read', async () => {
    const { searchParams } = new URL(request.url);
    const query = new URLSearchParams({
      source: searchParams.get('source') ?? '',
      limit: searchParams.get('limit') ?? '200',
    });
    return await callEngine(`/tape?${query}`);
  });
}
