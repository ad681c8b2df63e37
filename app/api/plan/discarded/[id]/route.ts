import { takeUpDraft } from '#store/plans.ts';
import { atEdge } from '../../../../_server/edge.ts';
import { problem } from '../../../../_server/engine.ts';
import { draftView } from '../../../../_server/plan.ts';
import { byNumber } from '../../../../_server/requests/plan.ts';
import { store } from '../../../../_server/store.ts';

export const dynamic = 'force-dynamic';

interface Context {
  readonly params: Promise<{ readonly id: string }>;
}

/** Makes a discarded draft the draft again; the one there may be takes its place among the discarded. */
export async function POST(_request: Request, { params }: Context): Promise<Response> {
  return await atEdge('The draft could not be taken up', async () => {
    const { id } = byNumber.validateSync(await params);
    if (!(await takeUpDraft(store(), id, Date.now())))
      return problem(404, 'The draft is gone', 'Discarded drafts can be taken up for a day.');
    return Response.json((await draftView()) ?? null);
  });
}
