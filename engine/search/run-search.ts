import type { SearchAnswer, SearchProgress } from '#core/answers/search.ts';
import { allRows } from '#core/events/select.ts';
import { fieldSummaries } from '#core/search/field-summary.ts';
import { severityClasses } from '#core/search/histogram.ts';
import { batchOfMinutes } from '#core/search/known-counts.ts';
import { type FoundRows, NewestRows } from '#core/search/newest.ts';
import {
  addFound,
  type FetchedPartial,
  type FoundPartial,
  mergeFetched,
  mergeFound,
  mostForFields,
  mostNewest,
  newFetched,
  newFound,
  type SearchQuery,
} from '#core/search/search.ts';
import { summaryTable } from '#core/search/summary-table.ts';
import { again } from '#store/again.ts';
import type { Database } from '#store/database.ts';
import { lastStoredBefore, listSegments, type StoredSegment } from '#store/segments.ts';
import type { FetchRef } from '../workers/fetch.ts';
import type { Pools } from '../workers/pools.ts';
import { doubtsOf, type NamesNow } from './doubts.ts';
import { FindQueue } from './find-queue.ts';
import type { HeaderCache } from './header-cache.ts';
import { type JudgedSegment, judgedSegments } from './judged-segments.ts';
import { type QueryText, queryOf } from './query.ts';

/** Tasks of one lane at a time: while one waits for the store, the other computes. */
const tasksPerLane = 2;
/** How long a search may read, in milliseconds; it then answers with what it has, and says what it did not read. */
const longest = 60_000;

/** What a search reads with. */
export interface SearchSetting {
  readonly database: Database;
  readonly pools: Pools;
  readonly headers: HeaderCache;
  /** The fleets that each source belongs to. */
  readonly fleets: ReadonlyMap<string, readonly string[]>;
  /** What sources, tiers and fleets are called now. */
  readonly names: NamesNow;
}

export interface SearchRun {
  /** The tiers that are read; all of them where none are given. */
  readonly tiers?: readonly string[] | undefined;
  readonly signal: AbortSignal;
  /** Told after each piece of work how far it is; the newest lines come with it as soon as they are certain. */
  readonly progress: (progress: SearchProgress) => void;
  /** When to stop reading (milliseconds since 1970); a minute from now where it is not given. */
  readonly deadline?: number | undefined;
}

/**
 * Runs a search over the stored segments in two passes: the first finds and counts, the newest segments first and only as
 * far as it does not follow from what is known of them; the second makes whole events of the few that are shown. Aborting
 * the signal stops it between two pieces of work.
 */
export async function runSearch(setting: SearchSetting, text: QueryText, run: SearchRun): Promise<SearchAnswer> {
  const started = performance.now();
  const now = Date.now();
  const query = queryOf(text);
  const listed = await again(() => listSegments(setting.database, query.window, run.tiers));
  const { headers, fleets, names } = setting;
  const known = await again(() => headers.read(listed.map(({ id }) => id)));
  const segments = await again(() => judgedSegments(listed, query, { headers, known, now, fleets }));
  const state = new Running(setting, text, query, segments, run, now);
  await state.find();
  const fetched = await state.fetch();
  const { found } = state;
  return {
    total: found.total,
    estimated: Math.round(found.total) !== found.stored,
    events: fetched.events,
    histogram: histogramOf(found, query),
    fields: fieldSummaries(fetched.fields, fetched.fieldTotal),
    fieldsOf: fetched.fieldTotal,
    ...(query.summary && found.summary && { summary: summaryTable(query.summary, found.summary, query.window, now) }),
    doubts: doubtsOf(text, query.summary, listed, { headers: known, names }),
    scanned: found.scanned,
    stored: await storedIn(setting.database, listed, query.window.from),
    segments: segments.length,
    unread: segments.length - state.segmentsRead,
    tookMs: Math.round(performance.now() - started),
  };
}

async function storedIn(
  database: Database,
  segments: readonly StoredSegment[],
  from: number,
): Promise<SearchAnswer['stored']> {
  const events = segments.reduce((sum, segment) => sum + segment.events, 0);
  const lastBefore = segments.length > 0 ? undefined : await again(() => lastStoredBefore(database, from));
  return { segments: segments.length, events, ...(lastBefore !== undefined && { lastBefore }) };
}

/** A search while it runs. */
class Running {
  readonly found: FoundPartial;
  segmentsRead = 0;
  private readonly newest: NewestRows;
  private readonly lines: NewestRows;
  private readonly queues: readonly FindQueue[];
  private readonly sources: ReadonlyMap<number, JudgedSegment>;
  /** What is in work: the last time (milliseconds) that each task may still bring. */
  private readonly inWork = new Set<{ readonly latest: number }>();
  private early: Promise<FetchedPartial> | undefined;

  constructor(
    private readonly setting: SearchSetting,
    private readonly text: QueryText,
    private readonly query: SearchQuery,
    segments: readonly JudgedSegment[],
    private readonly run: SearchRun,
    private readonly now: number,
  ) {
    this.found = newFound(query);
    this.newest = new NewestRows(mostNewest(query));
    this.lines = new NewestRows(query.limit);
    this.sources = new Map(segments.map((segment) => [segment.id, segment]));
    this.count(segments);
    const lanes = setting.pools.readLanes;
    this.queues = Array.from(
      { length: lanes },
      (_, lane) =>
        new FindQueue(
          segments.filter(({ id }) => id % lanes === lane),
          query,
        ),
    );
  }

  /** The first pass. */
  async find(): Promise<void> {
    const lanes = this.queues.length;
    await Promise.all(Array.from({ length: lanes * tasksPerLane }, (_, index) => this.lane(index % lanes)));
    this.run.signal.throwIfAborted();
  }

  /** The second pass. */
  async fetch(): Promise<FetchedPartial> {
    const fields = this.query.fields ? this.newest.newest(mostForFields) : [];
    const fetched = newFetched();
    const early = await this.early;
    const rest = await this.fetchRows(early ? [] : this.lines.newest(), fields);
    for (const partial of [early, rest]) if (partial) mergeFetched(fetched, partial);
    return fetched;
  }

  /** Counts what is known without opening a segment. */
  private count(segments: readonly JudgedSegment[]): void {
    for (const { source, tier, events, counted, statistics } of segments) {
      if (!counted || !statistics) continue;
      const batch = batchOfMinutes(source, statistics);
      addFound(this.found, this.query, batch, allRows(batch), tier);
      this.found.stored += events;
      this.found.scanned += events;
      this.segmentsRead++;
    }
  }

  private async lane(index: number): Promise<void> {
    const queue = this.queues[index] as FindQueue;
    const end = this.run.deadline ?? this.now + longest;
    while (Date.now() < end) {
      this.run.signal.throwIfAborted();
      const task = { latest: queue.latest };
      const segments = queue.next(this.newest.after);
      if (segments.length === 0) return;
      this.inWork.add(task);
      const { now, setting } = this;
      const { found, newest } = await setting.pools.read(index, {
        kind: 'find',
        query: this.text,
        segments,
        after: this.newest.after,
        fleets: setting.fleets,
        now,
      });
      this.inWork.delete(task);
      mergeFound(this.found, found);
      for (const rows of newest) this.take(rows);
      this.segmentsRead += segments.filter(({ counted }) => !counted).length;
      this.tell();
    }
  }

  private take(rows: FoundRows): void {
    this.newest.add(rows);
    this.lines.add(rows);
  }

  /** Tells how far it is, and fetches the newest lines as soon as nothing newer can be found any more. */
  private tell(): void {
    const { found, query, run } = this;
    const told = (): SearchProgress => ({
      segments: this.sources.size,
      segmentsRead: this.segmentsRead,
      scanned: found.scanned,
      total: found.total,
      histogram: histogramOf(found, query),
    });
    run.progress(told());
    const open = Math.max(...[...this.inWork, ...this.queues].map(({ latest }) => latest));
    if (this.early || query.limit === 0 || this.lines.after < open) return;
    this.early = this.fetchRows(this.lines.newest(), []);
    this.early.then(
      ({ events }) => {
        if (!run.signal.aborted) run.progress({ ...told(), events });
      },
      // Who waits for the lines is told what went wrong.
      () => {},
    );
  }

  private async fetchRows(lines: readonly FoundRows[], fields: readonly FoundRows[]): Promise<FetchedPartial> {
    const { pools } = this.setting;
    const fetched = newFetched();
    const none = new Int32Array(0);
    const linesOf = new Map(lines.map(({ segment, rows }) => [segment, rows]));
    const fieldsOf = new Map(fields.map(({ segment, rows }) => [segment, rows]));
    const refs = [...new Set([...linesOf.keys(), ...fieldsOf.keys()])].map((id): FetchRef => {
      const { tier, source, events } = this.sources.get(id) as JudgedSegment;
      return { id, tier, source, events, lines: linesOf.get(id) ?? none, fields: fieldsOf.get(id) ?? none };
    });
    const lane = async (index: number): Promise<void> => {
      const wanted = refs.filter(({ id }) => id % pools.readLanes === index);
      for (let at = 0; at < wanted.length; at += segmentsFetched) {
        this.run.signal.throwIfAborted();
        const segments = wanted.slice(at, at + segmentsFetched);
        mergeFetched(fetched, await pools.read(index, { kind: 'fetch', segments }));
      }
    };
    await Promise.all(Array.from({ length: pools.readLanes }, (_, index) => lane(index)));
    return fetched;
  }
}

/** Segments of which a worker fetches rows at a time. */
const segmentsFetched = 16;

function histogramOf({ histogram }: FoundPartial, { buckets }: SearchQuery): SearchAnswer['histogram'] {
  const { start, width, count } = buckets;
  const counts = Array.from({ length: count }, (_, i) => [
    ...histogram.subarray(i * severityClasses, (i + 1) * severityClasses),
  ]);
  return { start, width, counts };
}
