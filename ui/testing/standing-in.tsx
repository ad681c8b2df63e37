import { cleanup } from '@testing-library/react';
import { NuqsTestingAdapter } from 'nuqs/adapters/testing';
import type { ReactNode } from 'react';
import { SWRConfig } from 'swr';
import { onTestFinished, vi } from 'vitest';

/** What the application is asked for: method and address, and the JSON of the body. */
export interface StandInRequest {
  readonly asked: string;
  readonly body: unknown;
}

/** Answers a request; a {@link Response} is given as it is, anything else as JSON. */
export type StandIn = (body: unknown, signal: AbortSignal | undefined) => unknown;

/**
 * Answers requests in the place of the application, by their method and path (`GET /api/prices`), as long as the test runs.
 * Returns the requests that came, the latest last. One that nothing is said of fails with 404.
 */
export function standingIn(answers: Readonly<Record<string, StandIn>>): readonly StandInRequest[] {
  const requests: StandInRequest[] = [];
  onTestFinished(() => void vi.unstubAllGlobals());
  vi.stubGlobal('fetch', async (address: string, { method = 'GET', body, signal }: RequestInit) => {
    const given: unknown = typeof body === 'string' ? JSON.parse(body) : undefined;
    requests.push({ asked: `${method} ${address}`, body: given });
    const answer = answers[`${method} ${address.split('?')[0]}`];
    if (!answer) return Response.json({ detail: 'Nothing stands in for this.' }, { status: 404 });
    const value = await answer(given, signal ?? undefined);
    return value instanceof Response ? value : Response.json(value);
  });
  return requests;
}

/** Wraps hooks, until the test ends, in what they need around them: an address, which they read and write, and a cache of their own. */
export function wrapperAt(address = '', onAddress: (query: string) => void = () => {}) {
  onTestFinished(cleanup);
  return ({ children }: { readonly children: ReactNode }) => (
    <NuqsTestingAdapter searchParams={address} hasMemory onUrlUpdate={({ queryString }) => onAddress(queryString)}>
      <SWRConfig value={{ provider: () => new Map() }}>{children}</SWRConfig>
    </NuqsTestingAdapter>
  );
}
