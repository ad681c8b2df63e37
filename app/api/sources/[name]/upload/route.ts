import { atEdge } from '../../../../_server/edge.ts';
import { callEngine } from '../../../../_server/engine.ts';

export const dynamic = 'force-dynamic';

interface Context {
  readonly params: Promise<{ readonly name: string }>;
}

/** Takes a sample file; its name, in the query, tells CSV from lines. */
export async function POST(request: Request, { params }: Context): Promise<Response> {
  return await atEdge('The file could not be taken', async () => {
    const { name } = await params;
    const file = new URL(request.url).searchParams.get('file') ?? '';
    const query = new URLSearchParams({ source: name, name: file });
    return await callEngine(`/upload?${query}`, { stream: request.body });
  });
}
