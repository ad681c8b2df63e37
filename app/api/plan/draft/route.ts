import { ValidationError } from 'yup';
import { removeDraft, saveDraft } from '#store/plans.ts';
import { problem } from '../../../_server/engine.ts';
import { draftView, livePlan } from '../../../_server/plan.ts';
import { draftBody } from '../../../_server/requests/plan.ts';
import { store } from '../../../_server/store.ts';

export const dynamic = 'force-dynamic';

/** The draft with its changes and problems; `null` where there is none. */
export async function GET(): Promise<Response> {
  return Response.json((await draftView()) ?? null);
}

/** Stores the draft. It may be unfinished: what is wrong with it is listed in the answer, and only publishing needs it right. */
export async function PUT(request: Request): Promise<Response> {
  try {
    const { plan } = draftBody.validateSync(await request.json());
    const live = await livePlan();
    if (JSON.stringify(plan) === JSON.stringify(live.plan)) await removeDraft(store());
    else
      await saveDraft(store(), {
        plan: JSON.stringify(plan),
        basedOn: live.revision,
        changedAt: Date.now(),
        rehearsal: null,
      });
    return Response.json((await draftView()) ?? null);
  } catch (error) {
    if (error instanceof ValidationError || error instanceof SyntaxError)
      return problem(400, 'This is no plan', error.message);
    throw error;
  }
}

/** Throws the draft away. */
export async function DELETE(): Promise<Response> {
  await removeDraft(store());
  return Response.json(null);
}
