import { type OperationName, operations } from '#core/operations/index.ts';
import { isAskedInQuery, type Operation, pathParts } from '#core/operations/operation.ts';
import { csvWriterOf } from './csv.ts';
import { atEdge, checkKeys, jsonOf } from './edge.ts';
import { callEngine, callEngines } from './engine.ts';
import { askerOf } from './permission.ts';

/** What Next.js gives a route handler beside the request: the parts of its path. */
interface Context {
  readonly params: Promise<Readonly<Record<string, string>>>;
}

type RouteHandler = (request: Request, context: Context) => Promise<Response>;

/**
 * The way of every request of the API: who it is and whether they may, its input as one object, and on to an engine, which
 * checks the input and carries it out.
 */
export function handle(name: OperationName): RouteHandler {
  return handled(name, callEngine);
}

/** As {@link handle}, for what each engine answers for itself: the answers of all become one stream. */
export function handleByAll(name: OperationName): RouteHandler {
  return handled(name, callEngines);
}

function handled(name: OperationName, call: typeof callEngine): RouteHandler {
  const operation: Operation = operations[name];
  const { failure, permission, takes } = operation;
  return async (request, { params }) =>
    await atEdge(failure, async () => {
      const asker = await askerOf(request, permission);
      if (asker instanceof Response) return asker;
      const given = await inputOf(operation, request, await params);
      const accept = request.headers.get('accept') ?? '';
      const options = {
        input: given,
        accept,
        signal: request.signal,
        who: asker.who,
        ...(takes && { stream: request.body }),
      };
      const answer = await call(name, failure, options);
      if (!answer.ok) return answer;
      const toCsv = accept.includes('text/csv') ? csvWriterOf(name) : undefined;
      if (!toCsv) return passedOn(answer);
      const headers = { 'content-type': 'text/csv; charset=utf-8' };
      return new Response(toCsv(await answer.json(), { ...given }), { headers });
    });
}

async function inputOf(
  operation: Operation,
  request: Request,
  params: Readonly<Record<string, string>>,
): Promise<object> {
  const inPath = Object.fromEntries(pathParts(operation).map((part) => [part, params[part] ?? '']));
  const rest: unknown = isAskedInQuery(operation)
    ? Object.fromEntries(new URL(request.url).searchParams)
    : await jsonOf(request);
  if (typeof rest !== 'object' || rest === null || Array.isArray(rest))
    throw new SyntaxError('The body is no JSON object.');
  const input = { ...rest, ...inPath };
  checkKeys(input);
  return input;
}

const passed = ['content-type', 'content-disposition', 'cache-control'];

/** An engine's answer with what of its headers is meant for whoever asked. */
function passedOn(answer: Response): Response {
  const headers = new Headers();
  for (const name of passed) {
    const value = answer.headers.get(name);
    if (value !== null) headers.set(name, value);
  }
  return new Response(answer.body, { status: answer.status, headers });
}
