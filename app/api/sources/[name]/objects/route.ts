import { atEdge, jsonOf } from '../../../../_server/edge.ts';
import { callEngine } from '../../../../_server/engine.ts';
import { objectAgain } from '../../../../_server/requests/sources.ts';

export const dynamic = 'force-dynamic';

interface Context {
  readonly params: Promise<{ readonly name: string }>;
}

/** Has objects tried again that could not be read: one by its identity, or all. */
export async function POST(request: Request, { params }: Context): Promise<Response> {
  return await atEdge('The objects could not be tried again', async () => {
    const { identity } = objectAgain.validateSync(await jsonOf(request));
    return await callEngine('/sources/objects/again', { body: { source: (await params).name, identity } });
  });
}
