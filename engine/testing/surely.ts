import type { TestEngine } from './engine.ts';

/** Sends history of a source until it is acknowledged, to whichever engine is there, under a key. */
export async function sendSurely(
  engineOf: () => TestEngine,
  {
    source,
    body,
    at,
    key,
  }: { readonly source: string; readonly body: string; readonly at: number; readonly key: string },
): Promise<void> {
  for (;;) {
    const answer = await fetch(`${engineOf().intake}/intake/${source}`, {
      method: 'POST',
      headers: {
        authorization: `Bearer token-${source}`,
        'idempotency-key': key,
        'otter-backfill': new Date(at).toISOString(),
      },
      body,
    }).catch(() => undefined);
    if (answer?.status === 200) return;
  }
}
