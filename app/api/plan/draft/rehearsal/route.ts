import { readDraft, saveDraft } from '#store/plans.ts';
import { atEdge } from '../../../../_server/edge.ts';
import { callEngine, problem, resultOf } from '../../../../_server/engine.ts';
import { draftView } from '../../../../_server/plan.ts';
import { store } from '../../../../_server/store.ts';

export const dynamic = 'force-dynamic';

/** Runs the draft and the live plan over the tape of the last day, and keeps the result with the draft. */
export async function POST(request: Request): Promise<Response> {
  return await atEdge('The draft could not be rehearsed', async () => {
    const draft = await draftView();
    if (!draft) return problem(404, 'There is no draft', 'Change something first.');
    if (draft.problems.length > 0) {
      return problem(400, 'The draft is not valid', draft.problems[0]?.message ?? '', { problems: draft.problems });
    }
    const answer = await resultOf(
      await callEngine('/rehearsal', { body: { draft: draft.plan }, signal: request.signal }),
    );
    if (!answer.ok) return answer;
    const result: unknown = await answer.json();
    const stored = await readDraft(store());
    if (stored && JSON.stringify(JSON.parse(stored.plan)) === JSON.stringify(draft.plan)) {
      const { id: _, ...rest } = stored;
      await saveDraft(store(), { ...rest, rehearsal: result });
    }
    return Response.json(result);
  });
}
