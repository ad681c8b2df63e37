import type { Logger } from 'pino';
import { maxSegmentEvents } from '#core/segments/segment.ts';
import type { Database } from '#store/database.ts';
import { listMergeable, type StoredSegment, smallSegments } from '#store/segments.ts';
import type { Measures } from '../measures.ts';
import type { Pools } from '../workers/pools.ts';

/** Segments below this many events are merged with others. */
const smallBelow = 32_768;
/** This many small ones of the same kind are worth merging at once; fewer wait for {@link patience}. */
const enough = 10;
/** How long a small segment waits for others at most, in milliseconds. */
const patience = 120_000;
/** Most merges in one round. */
const mostMerges = 40;

/** Merges small segments of the same tier, source and slot. Returns how many were merged. */
export async function compactRound(
  database: Database,
  pools: Pools,
  measures: Measures,
  revision: number,
  log: Logger,
): Promise<number> {
  let merged = 0;
  const candidates = await listMergeable(database, smallBelow);
  for (const candidate of candidates.slice(0, mostMerges)) {
    const small = await smallSegments(database, candidate, smallBelow);
    const group = nextGroup(small);
    if (group.length < 2 || !isWorthIt(group)) continue;
    try {
      const done = await pools.compact({
        kind: 'compact',
        tier: candidate.tier,
        source: candidate.source,
        slot: candidate.slot,
        revision,
        segments: group.map(({ id, tier, source, events }) => ({ id, tier, source, events })),
        bytes: group.reduce((sum, segment) => sum + segment.bytes, 0),
        now: Date.now(),
      });
      if (!done) continue;
      merged += group.length;
      measures.compactions += group.length;
    } catch (error) {
      log.warn({ err: error }, 'Segments could not be merged; they stay as they are.');
      return merged;
    }
  }
  return merged;
}

/** As many segments, oldest first, as fit into one. */
function nextGroup(small: readonly StoredSegment[]): readonly StoredSegment[] {
  const group: StoredSegment[] = [];
  let events = 0;
  for (const segment of small) {
    if (events + segment.events > maxSegmentEvents || group.length >= 200) break;
    events += segment.events;
    group.push(segment);
  }
  return group;
}

function isWorthIt(group: readonly StoredSegment[]): boolean {
  if (group.length >= enough) return true;
  const events = group.reduce((sum, segment) => sum + segment.events, 0);
  if (events >= smallBelow) return true;
  // A few leftovers of a slot that has ended are merged too, but not over and over while it still fills.
  const ended = Math.max(...group.map((segment) => segment.to)) < Date.now() - patience;
  return ended && group.length >= 3;
}
