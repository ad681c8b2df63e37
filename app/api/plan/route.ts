import { livePlan } from '../../_server/plan.ts';

export const dynamic = 'force-dynamic';

/** The live plan and its revision. */
export async function GET(): Promise<Response> {
  return Response.json(await livePlan());
}
