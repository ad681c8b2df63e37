import { draftOf } from '#core/plan/draft-shape.ts';
import { discardDraft, removeDraft, saveDraft } from '#store/plans.ts';
import { atEdge, jsonOf } from '../../../_server/edge.ts';
import { draftView, livePlan } from '../../../_server/plan.ts';
import { draftBody } from '../../../_server/requests/plan.ts';
import { store } from '../../../_server/store.ts';

export const dynamic = 'force-dynamic';

/** The draft with its changes and problems; `null` where there is none. */
export async function GET(): Promise<Response> {
  return await atEdge('The draft could not be read', async () => {
    return Response.json((await draftView()) ?? null);
  });
}

/** Stores the draft. It may be unfinished: what is wrong with it is listed in the answer, and only publishing needs it right. */
export async function PUT(request: Request): Promise<Response> {
  return await atEdge('This is no plan', async () => {
    const plan = draftOf(draftBody.validateSync(await jsonOf(request)).plan);
    const live = await livePlan();
    if (JSON.stringify(plan) === JSON.stringify(live.plan)) await removeDraft(store().db);
    else
      await saveDraft(store(), {
        plan: JSON.stringify(plan),
        basedOn: live.revision,
        changedAt: Date.now(),
        rehearsal: null,
      });
    return Response.json((await draftView()) ?? null);
  });
}

/** Throws the draft away; it can be taken up again for a day. */
export async function DELETE(): Promise<Response> {
  return await atEdge('The draft could not be discarded', async () => {
    await discardDraft(store(), Date.now());
    return Response.json(null);
  });
}
