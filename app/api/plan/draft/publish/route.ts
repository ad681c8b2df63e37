import { atEdge, jsonOf } from '../../../../_server/edge.ts';
import { callEngine, problem } from '../../../../_server/engine.ts';
import { draftView } from '../../../../_server/plan.ts';
import { publishBody } from '../../../../_server/requests/plan.ts';

export const dynamic = 'force-dynamic';

/** Publishes the draft as the next revision. */
export async function POST(request: Request): Promise<Response> {
  return await atEdge('The draft could not be published', async () => {
    const draft = await draftView();
    if (!draft) return problem(404, 'There is no draft', 'There is nothing to publish.');
    const { note, letGo } = publishBody.validateSync(await jsonOf(request));
    if (note === '') return problem(400, 'A note is missing', 'Say in a note what the change is for.');
    const unsaid = draft.leaving.filter(({ tier }) => !letGo.includes(tier));
    if (unsaid.length > 0) {
      const names = unsaid.map(({ title }) => title).join(', ');
      const detail = `Stored events of ${names} would go. Name the tiers (their ids) in letGo when that is meant.`;
      return problem(409, 'Stored events would go', detail, { leaving: unsaid });
    }
    return await callEngine('/publish', { body: { plan: draft.plan, note, predicted: draft.rehearsal } });
  });
}
