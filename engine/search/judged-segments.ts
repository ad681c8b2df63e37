import type { TimeWindow } from '#core/conditions/times.ts';
import { isCountedByMinutes } from '#core/search/known-counts.ts';
import type { SearchQuery } from '#core/search/search.ts';
import type { SegmentHeader } from '#core/segments/header.ts';
import { judge, type Verdict } from '#core/segments/judge.ts';
import type { SegmentStatistics } from '#core/segments/statistics.ts';
import type { StoredSegment } from '#store/segments.ts';
import type { FindRef } from '../workers/find.ts';
import type { ColumnOf, HeaderCache } from './header-cache.ts';

/** A segment that may hold what is searched for. */
export interface JudgedSegment extends FindRef {
  /** Its last event, in milliseconds. */
  readonly to: number;
  readonly statistics: SegmentStatistics | undefined;
}

/** What segments are judged with: the present in milliseconds, and the fleets of each source. */
export interface JudgeSetting {
  readonly headers: HeaderCache;
  /** What stands at the heads of the segments, by their ids. */
  readonly known: ReadonlyMap<number, SegmentHeader>;
  readonly now: number;
  readonly fleets: ReadonlyMap<string, readonly string[]>;
}

/**
 * The segments that may hold events that a query picks, in the order given, with what is known of them; the others are
 * left out without being opened.
 */
export async function judgedSegments(
  segments: readonly StoredSegment[],
  query: SearchQuery,
  { headers, known, now, fleets }: JudgeSetting,
): Promise<readonly JudgedSegment[]> {
  const wanted: ColumnOf[] = [];
  const verdictOf = (segment: StoredSegment, filterOf: (column: ColumnOf) => ReturnType<HeaderCache['filter']>) => {
    const context = { now, fleets: fleets.get(segment.source) ?? [] };
    const statistics = known.get(segment.id)?.statistics;
    return judge(query.condition.node, { ...segment, statistics }, context, (column) =>
      filterOf({ segment: segment.id, column }),
    );
  };
  const ask = (column: ColumnOf): undefined => {
    wanted.push(column);
    return undefined;
  };
  const first = segments.map((segment) => verdictOf(segment, ask));
  await headers.readFilters(wanted);
  const isFiltered = new Set(wanted.map(({ segment }) => segment));
  const byMinutes = isCountedByMinutes(query);
  return segments.flatMap((segment, index) => {
    const before = first[index] as Verdict;
    const isOpen = before.may && isFiltered.has(segment.id);
    const { may, mayNot } = isOpen ? verdictOf(segment, (column) => headers.filter(column)) : before;
    if (!may) return [];
    const inside = isInside(segment, query.window);
    const statistics = known.get(segment.id)?.statistics;
    const counted = inside && !mayNot && byMinutes && statistics !== undefined;
    const { id, tier, source, events, to } = segment;
    return { id, tier, source, events, to, inside, holds: !mayNot, counted, newest: false, statistics };
  });
}

function isInside({ from, to }: StoredSegment, window: TimeWindow): boolean {
  return from >= window.from && to + 1 <= window.to;
}
