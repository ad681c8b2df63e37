import { type OperationName, operations } from '#core/operations/index.ts';

/** An operation, and what the parts of its path are in an address. */
export interface AddressedOperation {
  readonly name: OperationName;
  readonly params: Readonly<Record<string, string>>;
}

interface Route {
  readonly name: OperationName;
  readonly method: string;
  readonly segments: readonly string[];
}

const names = Object.keys(operations) as readonly OperationName[];

/** All operations; of two that an address fits, the one whose path says more comes first. */
const routes: readonly Route[] = names
  .map((name) => ({ name, method: operations[name].method, segments: operations[name].path.split('/') }))
  .sort((a, b) => partsIn(a.segments) - partsIn(b.segments));

/** The operation that a request with this method asks for (HEAD as GET); undefined where there is none. */
export function operationAt(method: string, path: string): AddressedOperation | undefined {
  const segments = path.split('/');
  const wanted = method === 'HEAD' ? 'GET' : method;
  const route = routes.find((candidate) => candidate.method === wanted && isAt(candidate, segments));
  return route && { name: route.name, params: paramsOf(route, segments) };
}

/** The methods that are answered at an address. */
export function methodsAt(path: string): readonly string[] {
  const segments = path.split('/');
  return [...new Set(routes.filter((route) => isAt(route, segments)).map(({ method }) => method))];
}

function isAt({ segments }: Route, given: readonly string[]): boolean {
  return segments.length === given.length && segments.every((part, i) => isPart(part) || part === given[i]);
}

function paramsOf({ segments }: Route, given: readonly string[]): Readonly<Record<string, string>> {
  const parts = segments.flatMap((part, i) => (isPart(part) ? [[part.slice(1, -1), given[i] ?? ''] as const] : []));
  return Object.fromEntries(parts.map(([name, value]) => [name, decodeURIComponent(value)]));
}

function isPart(segment: string): boolean {
  return segment.startsWith('{');
}

function partsIn(segments: readonly string[]): number {
  return segments.filter(isPart).length;
}
