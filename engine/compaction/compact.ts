import { LRUCache } from 'lru-cache';
import { hour } from '#core/events/time-units.ts';
import { maxSegmentEvents } from '#core/segments/segment.ts';
import type { Database } from '#store/database.ts';
import { newSmallPlaces, type SegmentPlace, type StoredSegment, smallSegments } from '#store/events/segments.ts';
import { isAway } from '#store/fault.ts';
import type { Log } from '../base/log.ts';
import type { Measures } from '../measures/measures.ts';
import type { MetricBegins } from '../metrics/metric-revisions.ts';
import type { Pools } from '../workers/pools.ts';

/** Segments below this many events are merged with others. */
const smallBelow = 32_768;
/** Segments of no more events than this are put together with any others. */
const fewEvents = 500;
/** This many small ones of the same kind are worth merging at once; fewer wait for {@link patience}. */
export const enough = 16;
/** A round is due once this many segments of any kind have been stored. */
const roundAfter = 60;
/** How long a small segment waits for others at most, in milliseconds. */
const patience = 120_000;
/** The longest pause between rounds while few segments are stored, in milliseconds. */
const longestRest = 20_000;
/** Most segments that are remembered for having too many fields to be merged. */
const mostAlone = 100_000;
/** Most merges in one round. */
const mostMerges = 40;
/** How often all segments are looked through, in milliseconds: one of them may have been committed late. */
const lookThroughEvery = hour;
/** The pause before segments that could not be merged are tried again, doubled each time up to the longest (milliseconds). */
const firstPause = 10_000;
const longestPause = hour;

interface Candidate extends SegmentPlace {
  /** When it is to be looked at again (milliseconds), and how often merging failed there. */
  at: number;
  /** How many segments could be put together when it was last looked at, and of how many events. */
  group: number;
  events: number;
  failures: number;
}

/** Merges small segments of the same tier, source and slot. What cannot be merged waits longer and longer, and holds up nothing else. */
export class Compaction {
  private readonly candidates = new Map<string, Candidate>();
  /** Segments that have too many fields to be merged with others, by their ids. */
  private readonly alone = new LRUCache<number, true>({ max: mostAlone });
  private last = 0;
  private lookedThrough = 0;
  private rested = { since: 0, segments: 0 };

  constructor(
    private readonly database: Database,
    private readonly pools: Pools,
    private readonly measures: Measures,
    private readonly log: Log,
  ) {}

  /**
   * Whether a round is due: this engine has stored enough segments since the last one, or other engines had time to.
   */
  isDue(now: number): boolean {
    const { since, segments } = this.rested;
    return this.measures.segments - segments >= roundAfter || now - since >= longestRest || now < since;
  }

  /**
   * Merges what is worth it now. What was processed before a revision in which a metric began and what was since stay apart: by
   * that it learns what the metric has not seen. Segments of revisions that are not looked at yet wait. Returns how many
   * segments were merged.
   */
  async round(begins: MetricBegins, now: number): Promise<number> {
    this.rested = { since: now, segments: this.measures.segments };
    await this.findCandidates(now);
    let merged = 0;
    let merges = 0;
    for (const [key, candidate] of this.candidates) {
      if (merges >= mostMerges) {
        // More segments wait, so the next round is due at once.
        this.rested = { ...this.rested, since: 0 };
        break;
      }
      if (candidate.at > now) continue;
      const small = (await smallSegments(this.database, candidate, smallBelow)).filter(({ id }) => !this.alone.has(id));
      const groups = apart(small, begins)
        .map((one) => nextGroup(one, now))
        .filter(({ length }) => length >= 2);
      const group = groups.find((one) => isWorthIt(one, now)) ?? groups[0];
      candidate.group = group?.length ?? Math.min(1, small.length);
      candidate.events = eventsOf(group ?? []);
      if (!group) {
        // What was processed under a plan that is taken up in a moment is looked at again then.
        if (small.some(({ revision }) => revision > begins.upTo)) candidate.at = now + patience / 8;
        else this.leave(key, candidate, small, now);
        continue;
      }
      if (!isWorthIt(group, now)) {
        // The slot still fills, or has just ended: it is looked at again when the newest may have waited long enough.
        if (group.length >= 3) candidate.at = Math.min(now + patience, newestOf(group) + patience + 1);
        else this.leave(key, candidate, small, now);
        continue;
      }
      merges++;
      merged += await this.merge(candidate, group, now);
    }
    return merged;
  }

  /** Leaves a place where nothing is to be merged: for good once its slot has ended, else until it may have. */
  private leave(key: string, candidate: Candidate, small: readonly StoredSegment[], now: number): void {
    if (small.length === 0 || isOver(small, now)) this.candidates.delete(key);
    else candidate.at = now + patience;
  }

  /** Places where small segments were stored since the last round. */
  private async findCandidates(now: number): Promise<void> {
    if (now - this.lookedThrough > lookThroughEvery) {
      this.last = 0;
      this.lookedThrough = now;
    }
    const { places, last } = await newSmallPlaces(this.database, this.last, smallBelow);
    this.last = last;
    for (const { tier, source, slot, count, events } of places) {
      const key = `${tier} ${source} ${slot}`;
      const known = this.candidates.get(key);
      if (!known) {
        this.candidates.set(key, { tier, source, slot, at: now, group: count, events, failures: 0 });
        continue;
      }
      known.group += count;
      known.events += events;
      if (known.failures === 0 && (known.group >= enough || known.events >= smallBelow)) known.at = now;
    }
  }

  private async merge(candidate: Candidate, group: readonly StoredSegment[], now: number): Promise<number> {
    const { tier, source, slot } = candidate;
    try {
      const { merged, alone } = await this.pools.background({
        kind: 'compact',
        tier,
        source,
        slot,
        segments: group.map(({ id, events, revision, bytes }) => ({ id, tier, source, events, revision, bytes })),
        now: Date.now(),
      });
      candidate.failures = 0;
      if (alone !== undefined) this.alone.set(alone, true);
      this.measures.compactions += merged;
      return merged;
    } catch (error) {
      candidate.failures++;
      candidate.at = now + Math.min(longestPause, firstPause * 2 ** (candidate.failures - 1));
      this.measures.failedCompactions++;
      const reason = isAway(error) ? 'the store cannot be reached' : 'they stay as they are and are tried again later';
      this.log.warn(`Segments of ${source} in ${tier} could not be merged: ${reason}.`);
      return 0;
    }
  }
}

/** Segments by the stretches of revisions that they were processed in. */
function apart(
  small: readonly StoredSegment[],
  { upTo, revisions }: MetricBegins,
): readonly (readonly StoredSegment[])[] {
  const stretches = new Map<number, StoredSegment[]>();
  for (const segment of small) {
    if (segment.revision > upTo) continue;
    const stretch = revisions.filter((begin) => begin <= segment.revision).length;
    const list = stretches.get(stretch);
    if (list) list.push(segment);
    else stretches.set(stretch, [segment]);
  }
  return [...stretches.values()];
}

/**
 * Segments to be put into one, oldest first, as many as fit. While their slot fills these are the smallest ones, and larger ones
 * only where those before them hold as many events: so each event is rewritten a logarithmic number of times (the logarithmic
 * method, Bentley and Saxe, 1980), instead of whenever a few events are added to many.
 */
function nextGroup(small: readonly StoredSegment[], now: number): readonly StoredSegment[] {
  const grows = small.length > 0 && !isOver(small, now);
  const inOrder = grows ? [...small].sort((a, b) => a.events - b.events || a.id - b.id) : small;
  const group: StoredSegment[] = [];
  let events = 0;
  for (const segment of inOrder) {
    if (events + segment.events > maxSegmentEvents || group.length >= 200) break;
    if (grows && group.length > 0 && segment.events > Math.max(events, fewEvents)) break;
    events += segment.events;
    group.push(segment);
  }
  return group.sort((a, b) => a.id - b.id);
}

function isWorthIt(group: readonly StoredSegment[], now: number): boolean {
  if (group.length >= enough) return true;
  if (eventsOf(group) >= smallBelow) return true;
  // A few leftovers of a slot that has ended are merged too, but not over and over while it still fills.
  return isOver(group, now) && group.length >= 3;
}

function eventsOf(group: readonly StoredSegment[]): number {
  return group.reduce((sum, segment) => sum + segment.events, 0);
}

function isOver(group: readonly StoredSegment[], now: number): boolean {
  return newestOf(group) < now - patience;
}

/** When the last event of all happened, in milliseconds. */
function newestOf(group: readonly StoredSegment[]): number {
  return Math.max(...group.map(({ to }) => to));
}
