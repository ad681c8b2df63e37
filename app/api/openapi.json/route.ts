import { apiDescription } from '../../_server/api-description.ts';

export const dynamic = 'force-static';

/** The OpenAPI 3.1 description of the API. */
export function GET(): Response {
  return Response.json(apiDescription());
}
