import type { Database } from '#store/database.ts';
import { removeLedger } from '#store/ledger.ts';
import { forgetObjects, forgetPositions } from '#store/positions.ts';
import { exchangeSegments, listSegments } from '#store/segments.ts';
import { type Source, saveSource } from '#store/sources.ts';
import type { Senders } from './intake/senders.ts';
import type { Pools } from './workers/pools.ts';

/** How long deliveries that are under way when a source is paused may take, in milliseconds. */
const settleTime = 1_500;

/**
 * Reads a source of files or objects again from a time on (milliseconds; 0: from the start). It is paused, what is stored
 * of it from then on is taken out, its positions are forgotten, and it resumes: nothing is doubled. Returns how many
 * stored events were taken out.
 */
export async function rewind(
  setting: { readonly database: Database; readonly pools: Pools; readonly senders: Senders },
  source: Source,
  from: number,
): Promise<{ readonly removed: number }> {
  const { database, pools, senders } = setting;
  const pausedSource = { ...source, settings: { ...source.settings, paused: true } };
  await saveSource(database, pausedSource);
  await senders.refresh();
  await new Promise((resolve) => setTimeout(resolve, settleTime));
  let removed = 0;
  const now = Date.now();
  for (const segment of await listSegments(database, { from, to: Number.MAX_SAFE_INTEGER }, undefined)) {
    if (segment.source !== source.name) continue;
    const { id, tier, events, revision, bytes } = segment;
    const ref = { id, tier, source: segment.source, events };
    const cut = await pools.cut({ kind: 'cut', segment: ref, slot: segment.slot, revision, bytes, before: from });
    if (await exchangeSegments(database, [id], cut.segments, now)) removed += cut.removed;
  }
  await removeLedger(database, source.name, Math.floor(from / 3_600_000) * 3_600_000);
  await forgetPositions(database, source.name);
  await forgetObjects(database, source.name);
  const { paused: _, ...settings } = source.settings;
  await saveSource(database, {
    ...source,
    settings: { ...settings, rewoundAt: now, ...(from > 0 && { notBefore: from }) },
  });
  await senders.refresh();
  return { removed };
}
