import type { SearchAnswer, SearchProgress } from '#core/answers/search.ts';
import { allRows } from '#core/events/select.ts';
import { severityClasses } from '#core/events/severity.ts';
import { fieldSummaries } from '#core/search/field-summary.ts';
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
  newFound,
  type SearchQuery,
} from '#core/search/search.ts';
import { summaryTable } from '#core/summaries/summary-table.ts';
import type { Database } from '#store/database.ts';
import { lastStoredBefore, listSegments, type StoredSegment } from '#store/events/segments.ts';
import { retryRead } from '#store/retry-read.ts';
import { type ReadSources, readSources } from '../usage/read-sources.ts';
import type { Pools } from '../workers/pools.ts';
import { type QueryText, queryOf } from '../workers/query.ts';
import { doubtsOf, type NamesNow } from './doubts.ts';
import { fetchNewest } from './fetch-newest.ts';
import { FindQueue } from './find-queue.ts';
import type { HeaderCache } from './header-cache.ts';
import { type JudgedSegment, judgedSegments } from './judged-segments.ts';

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
  /** The id under which a shape goes now. */
  readonly currentShape: (id: string) => string;
  /** What sources, tiers and fleets are called now. */
  readonly names: NamesNow;
}

export interface SearchRun {
  /** The tiers that are read; all of them where none are given. */
  readonly tiers?: readonly string[] | undefined;
  /** The condition as it was written, where saved searches stand in it: it is what is doubted. */
  readonly written?: string | undefined;
  readonly signal: AbortSignal;
  /** Called after each piece of work with how far it is; the newest lines come with it as soon as they are certain. */
  readonly progress: (progress: SearchProgress) => void;
  /** Called once with where matching events may be. */
  readonly onSources?: ((read: ReadSources) => void) | undefined;
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
  const listed = await retryRead(() => listSegments(setting.database, query.window, run.tiers));
  const { headers, fleets, names, currentShape } = setting;
  const { segments, fields, areFieldsKnown } = await retryRead(() =>
    judgedSegments(listed, query, { headers, now, fleets, currentShape }),
  );
  run.onSources?.(readSources(segments, query.window.from));
  const state = new SearchExecution(setting, { text, query, segments, now }, run);
  await state.find();
  const fetched = await state.fetch();
  const { found } = state;
  return {
    total: query.isCounted ? found.total : fetched.events.reduce((sum, { weight }) => sum + weight, 0),
    estimated: query.isCounted
      ? Math.round(found.total) !== found.stored
      : fetched.events.some(({ weight }) => weight !== 1),
    events: fetched.events,
    histogram: histogramOf(found, query),
    fields: fieldSummaries(fetched.fields, fetched.fieldTotal),
    fieldsOf: fetched.fieldTotal,
    ...(query.summary && found.summary && { summary: summaryTable(query.summary, found.summary, query.window, now) }),
    doubts: doubtsOf({ ...query, condition: run.written ?? text.condition }, listed, {
      ...(areFieldsKnown && { fields: new Set(fields.keys()) }),
      names,
    }),
    scanned: found.scanned,
    stored: await storedIn(setting.database, listed, query.window.from),
    segments: segments.length,
    unread: state.unread,
    tookMs: Math.round(performance.now() - started),
  };
}

async function storedIn(
  database: Database,
  segments: readonly StoredSegment[],
  from: number,
): Promise<SearchAnswer['stored']> {
  const events = segments.reduce((sum, segment) => sum + segment.events, 0);
  const lastBefore = segments.length > 0 ? undefined : await retryRead(() => lastStoredBefore(database, from));
  return { segments: segments.length, events, ...(lastBefore !== undefined && { lastBefore }) };
}

/** What is searched for, and where. */
interface Search {
  readonly text: QueryText;
  readonly query: SearchQuery;
  readonly segments: readonly JudgedSegment[];
  /** The present, in milliseconds. */
  readonly now: number;
}

/** A search while it runs. */
class SearchExecution {
  readonly found: FoundPartial;
  segmentsRead = 0;
  private readonly newest: NewestRows;
  private readonly lines: NewestRows;
  private readonly queues: readonly FindQueue[];
  /** What is in work: the last time (milliseconds) that each task may still bring. */
  private readonly inWork = new Set<{ readonly latest: number }>();
  private early: Promise<FetchedPartial> | undefined;

  constructor(
    private readonly setting: SearchSetting,
    private readonly search: Search,
    private readonly run: SearchRun,
  ) {
    const { query, segments } = search;
    this.found = newFound(query);
    this.newest = new NewestRows(mostNewest(query));
    this.lines = new NewestRows(query.limit);
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
    const fields = this.search.query.fields ? this.newest.newest(mostForFields) : [];
    const early = await this.early;
    const fetched = await this.fetchRows(early ? [] : this.lines.newest(), fields);
    if (early) mergeFetched(fetched, early, this.search.query.order);
    return fetched;
  }

  /** Segments that should have been looked through, and were not for want of time. */
  get unread(): number {
    return this.queues.reduce((sum, queue) => sum + queue.left(this.newest.after), 0);
  }

  private fetchRows(lines: readonly FoundRows[], fields: readonly FoundRows[]): Promise<FetchedPartial> {
    const { text, query } = this.search;
    const segments = new Map(this.search.segments.map((segment) => [segment.id, segment]));
    return fetchNewest(
      this.setting.pools,
      { lines, fields, segments, order: query.order, extraction: text.extraction },
      this.run.signal,
    );
  }

  /** Counts what is known without opening a segment. */
  private count(segments: readonly JudgedSegment[]): void {
    for (const { source, tier, events, minutes } of segments) {
      if (!minutes) continue;
      const batch = batchOfMinutes(source, minutes);
      addFound(this.found, this.search.query, batch, allRows(batch), tier);
      this.found.stored += events;
      this.found.scanned += events;
      this.segmentsRead++;
    }
  }

  private async lane(index: number): Promise<void> {
    const queue = this.queues[index] as FindQueue;
    const { text, now } = this.search;
    const end = this.run.deadline ?? now + longest;
    while (Date.now() < end) {
      this.run.signal.throwIfAborted();
      const task = { latest: queue.latest };
      const segments = queue.next(this.newest.after);
      if (segments.length === 0) return;
      this.inWork.add(task);
      const { setting } = this;
      const { found, newest } = await setting.pools.read(index, {
        kind: 'find',
        query: text,
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
    const { found, run } = this;
    const { query, segments } = this.search;
    const soFar = (): SearchProgress => ({
      segments: segments.length,
      segmentsRead: this.segmentsRead,
      scanned: found.scanned,
      total: found.total,
      histogram: histogramOf(found, query),
    });
    run.progress(soFar());
    const open = Math.max(...[...this.inWork, ...this.queues].map(({ latest }) => latest));
    if (this.early || query.limit === 0 || this.lines.after < open) return;
    this.early = this.fetchRows(this.lines.newest(), []);
    this.early.then(
      ({ events }) => {
        if (!run.signal.aborted) run.progress({ ...soFar(), events });
      },
      // Who waits for the lines gets to know what went wrong.
      () => {},
    );
  }
}

function histogramOf({ histogram }: FoundPartial, { buckets }: SearchQuery): SearchAnswer['histogram'] {
  const { start, width, count } = buckets;
  const counts = Array.from({ length: count }, (_, i) => [
    ...histogram.subarray(i * severityClasses, (i + 1) * severityClasses),
  ]);
  return { start, width, counts };
}
