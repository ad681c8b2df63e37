/** An answer as `application/problem+json` (RFC 9457), with further members where they help. */
export function problem(status: number, title: string, detail: string, more: object = {}): Response {
  return Response.json(
    { type: 'about:blank', title, status, detail, ...more },
    { status, headers: { 'content-type': 'application/problem+json' } },
  );
}
