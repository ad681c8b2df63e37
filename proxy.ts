import { type NextRequest, NextResponse } from 'next/server';

const here = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/;
const reading = new Set(['GET', 'HEAD', 'OPTIONS']);

function refuse(status: number, title: string, detail: string): NextResponse {
  return NextResponse.json(
    { type: 'about:blank', title, status, detail },
    { status, headers: { 'content-type': 'application/problem+json' } },
  );
}

/**
 * Until there are accounts, the application is for this machine only: requests that name another host, or that come from
 * another site's page, are refused. One that changes something has to say where it comes from and to send JSON, or bytes,
 * neither of which another site's page can do unasked. Pages run only scripts that carry the nonce of their answer.
 */
export function proxy(request: NextRequest): NextResponse {
  const refused = refusalOf(request);
  if (refused) return refused;
  const nonce = Buffer.from(crypto.getRandomValues(new Uint8Array(16))).toString('base64');
  const policy = policyOf(nonce);
  const headers = new Headers(request.headers);
  headers.set('x-nonce', nonce);
  headers.set('content-security-policy', policy);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set('content-security-policy', policy);
  return response;
}

function refusalOf(request: NextRequest): NextResponse | undefined {
  const host = request.headers.get('host') ?? '';
  const origin = request.headers.get('origin');
  if (!here.test(host) || (origin !== null && origin !== `http://${host}`))
    return refuse(403, 'Refused', 'Restless Otter answers to this machine only, under 127.0.0.1 or localhost.');
  if (!isReadable(request.nextUrl.pathname))
    return refuse(400, 'The address is wrong', 'It is no UTF-8 once it is decoded.');
  if (reading.has(request.method)) return undefined;
  // Another site's page cannot send a token unasked; whether it is one is looked at where it counts.
  const hasToken = /^Bearer\s/i.test(request.headers.get('authorization') ?? '');
  const site = request.headers.get('sec-fetch-site');
  if (!hasToken && (site === null ? origin === null : site !== 'same-origin')) {
    const detail = `What changes something says where it comes from: send the header Origin: http://${host}`;
    return refuse(403, 'Refused', detail);
  }
  const type = request.headers.get('content-type') ?? '';
  const length = request.headers.get('content-length') ?? '0';
  const isEmpty = length === '0' && !request.headers.has('transfer-encoding');
  if (isEmpty || /^application\/(json|octet-stream)\b/i.test(type)) return undefined;
  return refuse(415, 'The content type is not known', 'Send application/json.');
}

function isReadable(path: string): boolean {
  try {
    decodeURIComponent(path);
    return true;
  } catch {
    return false;
  }
}

function policyOf(nonce: string): string {
  return [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "font-src 'self' data:",
    "connect-src 'self'",
    "worker-src 'self' blob:",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join('; ');
}

export const config = { matcher: '/((?!_next/static).*)' };
