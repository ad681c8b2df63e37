import { findRevision, saveDraft } from '#store/plans.ts';
import { atEdge } from '../../../../../_server/edge.ts';
import { problem } from '../../../../../_server/engine.ts';
import { draftView, livePlan } from '../../../../../_server/plan.ts';
import { store } from '../../../../../_server/store.ts';

export const dynamic = 'force-dynamic';

/** Makes an old revision the draft, to be rehearsed and published like any other. */
export async function POST(
  _request: Request,
  { params }: { readonly params: Promise<{ readonly number: string }> },
): Promise<Response> {
  return await atEdge('The revision could not be brought back', async () => {
    const number = Number((await params).number);
    const old = Number.isInteger(number) ? await findRevision(store(), number) : undefined;
    if (!old) return problem(404, 'There is no such revision', 'Its number is not known.');
    const { revision } = await livePlan();
    await saveDraft(store(), { plan: old.plan, basedOn: revision, changedAt: Date.now(), rehearsal: null });
    return Response.json((await draftView()) ?? null);
  });
}
