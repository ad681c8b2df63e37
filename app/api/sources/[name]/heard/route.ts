import { atEdge } from '../../../../_server/edge.ts';
import { callEngine } from '../../../../_server/engine.ts';

export const dynamic = 'force-dynamic';

interface Context {
  readonly params: Promise<{ readonly name: string }>;
}

/** How many emitters of a source were heard in each hour of the last week, and how many were missing. */
export async function GET(_request: Request, { params }: Context): Promise<Response> {
  return await atEdge('Who was heard could not be read', async () => {
    return await callEngine(`/heard?${new URLSearchParams({ source: (await params).name })}`);
  });
}
