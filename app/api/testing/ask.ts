/** A request as a browser sends it: without a body, or with JSON in it. */
export function ask(path: string, method = 'GET', body?: unknown): Request {
  return new Request(`http://127.0.0.1:3000${path}`, {
    method,
    ...(body !== undefined && { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
  });
}

/** The context of a route below a name: `/api/sources/[name]`. */
export function named(name: string): { readonly params: Promise<{ readonly name: string }> } {
  return { params: Promise.resolve({ name }) };
}

/** The context of a route without parts in its path. */
export const nowhere = { params: Promise.resolve({}) };
