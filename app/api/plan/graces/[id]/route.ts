import { prolongTierGrace, runningTierGraces } from '#store/tier-graces.ts';
import { atEdge } from '../../../../_server/edge.ts';
import { problem } from '../../../../_server/engine.ts';
import { byNumber } from '../../../../_server/requests/plan.ts';
import { store } from '../../../../_server/store.ts';

export const dynamic = 'force-dynamic';

interface Context {
  readonly params: Promise<{ readonly id: string }>;
}

/** Keeps the stored events of a tier for as long as they were meant to be kept before a revision shortened it. */
export async function POST(_request: Request, { params }: Context): Promise<Response> {
  return await atEdge('The events could not be kept', async () => {
    const { id } = byNumber.validateSync(await params);
    const now = Date.now();
    const grace = (await runningTierGraces(store(), now)).find((running) => running.id === id);
    if (!grace || !(await prolongTierGrace(store(), id, grace.before + grace.keptFor, now)))
      return problem(404, 'The grace is over', 'The events have gone.');
    return Response.json({});
  });
}
