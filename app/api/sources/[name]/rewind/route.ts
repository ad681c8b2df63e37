import { atEdge } from '../../../../_server/edge.ts';
import { callEngine } from '../../../../_server/engine.ts';
import { readFrom } from '../../../../_server/read-from.ts';

export const dynamic = 'force-dynamic';

interface Context {
  readonly params: Promise<{ readonly name: string }>;
}

/** Reads a source of files or objects again, from a time or (with an empty one) from the start. */
export async function POST(request: Request, { params }: Context): Promise<Response> {
  return await atEdge('The source could not be rewound', async () => {
    const from = await readFrom(request);
    return await callEngine('/rewind', { body: { source: (await params).name, from } });
  });
}
