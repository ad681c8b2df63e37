import { atEdge } from '../../../../_server/edge.ts';
import { callEngine } from '../../../../_server/engine.ts';

export const dynamic = 'force-dynamic';

interface Context {
  readonly params: Promise<{ readonly name: string }>;
}

/** Masks what is already on the tape of a source, by the source's masks. */
export async function POST(_request: Request, { params }: Context): Promise<Response> {
  return await atEdge('The tape could not be masked', async () => {
    return await callEngine('/tape/scrub', { body: { source: (await params).name } });
  });
}
