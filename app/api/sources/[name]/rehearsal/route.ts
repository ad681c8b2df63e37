import { atEdge } from '../../../../_server/edge.ts';
import { callEngine, resultOf } from '../../../../_server/engine.ts';
import { draftView, livePlan } from '../../../../_server/plan.ts';
import { readFrom } from '../../../../_server/read-from.ts';

export const dynamic = 'force-dynamic';

interface Context {
  readonly params: Promise<{ readonly name: string }>;
}

/** Runs the draft (or, without one, the live plan) over what a source of files or objects holds; nothing is stored. */
export async function POST(request: Request, { params }: Context): Promise<Response> {
  return await atEdge('The source could not be rehearsed', async () => {
    const again = { source: (await params).name, from: await readFrom(request) };
    const draft = (await draftView())?.plan ?? (await livePlan()).plan;
    return await resultOf(await callEngine('/rehearsal', { body: { draft, again }, signal: request.signal }));
  });
}
