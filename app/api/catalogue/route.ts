import { fieldUses } from '#core/plan/field-uses.ts';
import { atEdge } from '../../_server/edge.ts';
import { callEngine } from '../../_server/engine.ts';
import { draftView, livePlan } from '../../_server/plan.ts';

export const dynamic = 'force-dynamic';

/** All fields of the last day's events, with the steps that make them and what reads them; of the draft where there is one. */
export async function GET(): Promise<Response> {
  return await atEdge('The catalogue could not be read', async () => {
    const draft = await draftView();
    const plan = draft && draft.problems.length === 0 ? draft.plan : (await livePlan()).plan;
    const answer = await callEngine('/fields', { body: { plan } });
    if (!answer.ok) return answer;
    const catalogue: object = await answer.json();
    return Response.json({ ...catalogue, ...fieldUses(plan), draft: draft !== undefined });
  });
}
