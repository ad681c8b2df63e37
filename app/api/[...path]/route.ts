import { handle } from '../../_server/handle.ts';
import { methodsAt, operationAt } from '../../_server/operation-at.ts';
import { problem } from '../../_server/problem.ts';

export const dynamic = 'force-dynamic';

/** Has the operation carried out that a request asks for by its method and address. */
async function answer(request: Request): Promise<Response> {
  const { pathname } = new URL(request.url);
  const found = operationAt(request.method, pathname);
  if (found) return await handle(found.name)(request, { params: Promise.resolve(found.params) });
  const allowed = methodsAt(pathname);
  if (allowed.length === 0) return problem(404, 'Not found', `Nothing is at ${pathname}.`);
  const refused = problem(405, 'Method not allowed', `${pathname} answers ${allowed.join(', ')}.`);
  refused.headers.set('allow', allowed.join(', '));
  return refused;
}

export const GET = answer;
export const POST = answer;
export const PUT = answer;
export const DELETE = answer;
export const PATCH = answer;
