import { type ReadPipeline, type ReadPlan, writePipeline, writePlan } from '#core/plan/plan-text.ts';
import { saveDraft } from '#store/plans.ts';
import { atEdge, jsonOf } from '../../../_server/edge.ts';
import { callEngine, problem } from '../../../_server/engine.ts';
import { draftView, livePlan } from '../../../_server/plan.ts';
import { planText } from '../../../_server/requests/plan.ts';
import { store } from '../../../_server/store.ts';

export const dynamic = 'force-dynamic';

/** The draft, or the live plan where there is none, as YAML; with `pipeline` only that one. */
export async function GET(request: Request): Promise<Response> {
  return await atEdge('The plan could not be read', async () => {
    const plan = (await draftView())?.plan ?? (await livePlan()).plan;
    const id = new URL(request.url).searchParams.get('pipeline');
    const pipeline = plan.pipelines.find((candidate) => candidate.id === id);
    if (id !== null && !pipeline) return problem(404, 'There is no such pipeline', `No pipeline is called ${id}.`);
    const text = pipeline ? writePipeline(pipeline) : writePlan(plan);
    const name = pipeline ? `${pipeline.id}.yaml` : 'plan.yaml';
    return new Response(text, {
      headers: { 'content-type': 'application/yaml', 'content-disposition': `attachment; filename="${name}"` },
    });
  });
}

/** Takes a plan, or one pipeline, from YAML into the draft; faults are named with line and column. */
export async function PUT(request: Request): Promise<Response> {
  return await atEdge('The text could not be taken', async () => {
    const { text } = planText.validateSync(await jsonOf(request));
    const live = await livePlan();
    const before = (await draftView())?.plan ?? live.plan;
    const answer = await callEngine('/plan/text', { body: { text } });
    if (!answer.ok) return answer;
    // The engine is of the same build: its answer is of this shape.
    const read: ReadPlan | ReadPipeline = await answer.json();
    if (!read.ok) {
      const [first] = read.problems;
      const detail = first ? `line ${first.line}, column ${first.column}: ${first.message}` : 'The text is no plan.';
      return problem(400, 'The text is no plan', detail, { problems: read.problems });
    }
    const plan =
      'plan' in read
        ? read.plan
        : { ...before, pipelines: [...before.pipelines.filter(({ id }) => id !== read.pipeline.id), read.pipeline] };
    await saveDraft(store(), {
      plan: JSON.stringify(plan),
      basedOn: live.revision,
      changedAt: Date.now(),
      rehearsal: null,
    });
    return Response.json(await draftView());
  });
}
