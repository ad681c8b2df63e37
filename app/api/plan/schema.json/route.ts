import { planSchema } from '#core/plan/plan-schema.ts';

export const dynamic = 'force-static';

/** The JSON Schema of a plan: editors complete and check plans with it. */
export function GET(): Response {
  return Response.json(planSchema(), { headers: { 'content-type': 'application/schema+json' } });
}
