import { callEngine, problem } from '../../../../_server/engine.ts';
import { draftView } from '../../../../_server/plan.ts';
import { publishBody } from '../../../../_server/requests/plan.ts';

export const dynamic = 'force-dynamic';

/** Publishes the draft as the next revision. */
export async function POST(request: Request): Promise<Response> {
  const draft = await draftView();
  if (!draft) return problem(404, 'There is no draft', 'There is nothing to publish.');
  const { note } = publishBody.validateSync(await request.json());
  if (note === '') return problem(400, 'A note is missing', 'Say in a note what the change is for.');
  return await callEngine('/publish', { body: { plan: draft.plan, note, predicted: draft.rehearsal } });
}
