import { type NextRequest, NextResponse } from 'next/server';

const here = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/;

/**
 * Until there are accounts, the application is for this machine only: requests that name another host, or that come from
 * another site's page, are refused.
 */
export function proxy(request: NextRequest): NextResponse {
  const host = request.headers.get('host') ?? '';
  const origin = request.headers.get('origin');
  const foreign = !here.test(host) || (origin !== null && origin !== `http://${host}`);
  if (!foreign) return NextResponse.next();
  return NextResponse.json(
    {
      type: 'about:blank',
      title: 'Refused',
      status: 403,
      detail: 'Restless Otter answers to this machine only, under 127.0.0.1 or localhost.',
    },
    { status: 403, headers: { 'content-type': 'application/problem+json' } },
  );
}

export const config = { matcher: '/((?!_next/static).*)' };
