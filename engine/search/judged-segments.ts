import type { TimeWindow } from '#core/conditions/times.ts';
import { isCountedByMinutes } from '#core/search/known-counts.ts';
import { inOrder } from '#core/search/order.ts';
import type { FindIn, SearchQuery } from '#core/search/search.ts';
import { addKnownFields, type KnownField } from '#core/segments/field-kinds.ts';
import type { SegmentHeader } from '#core/segments/header.ts';
import { type FilterOf, judge, type Verdict } from '#core/segments/judge.ts';
import { filterName } from '#core/segments/segment.ts';
import type { MinuteCounts } from '#core/segments/statistics.ts';
import type { StoredSegment } from '#store/events/segments.ts';
import type { SegmentRef } from '../workers/segment-cache.ts';
import type { ColumnOf, HeaderCache } from './header-cache.ts';

/** A segment that may hold what is searched for. */
export interface JudgedSegment extends SegmentRef, Pick<FindIn, 'inside' | 'holds'> {
  /** The time of its oldest event in milliseconds. */
  readonly from: number;
  /** The time of its newest event in milliseconds; of its oldest, mirrored, where the oldest are asked for. */
  readonly newest: number;
  /** Its events by minute, where all that the query counts follows from them; else it has to be looked through. */
  readonly minutes: MinuteCounts | undefined;
}

/** What the headers of some segments say. */
export interface Judged {
  /** Those that may hold what is searched for, the newest first, or the oldest where these are asked for. */
  readonly segments: readonly JudgedSegment[];
  /** The fields that the events of all of them have, as far as that is known. */
  readonly fields: ReadonlyMap<string, KnownField>;
  /** Whether it is known of all, and there are any. */
  readonly areFieldsKnown: boolean;
  /** The known fields of the segments that may hold matching events. */
  readonly foundFields: ReadonlyMap<string, KnownField>;
}

/** What segments are judged with: the present in milliseconds, and the fleets of each source. */
export interface JudgeSetting {
  readonly headers: HeaderCache;
  readonly now: number;
  readonly fleets: ReadonlyMap<string, readonly string[]>;
  /** The id under which a shape goes now. */
  readonly currentShape: (id: string) => string;
}

/** Judges segments by their headers: those that cannot hold events that a query picks are left out without being opened. */
export async function judgedSegments(
  listed: readonly StoredSegment[],
  query: SearchQuery,
  setting: JudgeSetting,
): Promise<Judged> {
  const segments: JudgedSegment[] = [];
  const fields = new Map<string, KnownField>();
  const foundFields = new Map<string, KnownField>();
  let areFieldsKnown = listed.length > 0;
  for await (const [some, known] of setting.headers.pieces(listed)) {
    for (const { id } of some) areFieldsKnown = addKnownFields(fields, known.get(id)) && areFieldsKnown;
    const judged = await judgeSome(some, query, known, setting);
    for (const { id } of judged) addKnownFields(foundFields, known.get(id));
    segments.push(...judged);
  }
  if (query.order === 'oldest') segments.sort((a, b) => b.newest - a.newest);
  return { segments, fields, areFieldsKnown, foundFields };
}

async function judgeSome(
  segments: readonly StoredSegment[],
  query: SearchQuery,
  known: ReadonlyMap<number, SegmentHeader>,
  { headers, now, fleets, currentShape }: JudgeSetting,
): Promise<readonly JudgedSegment[]> {
  const made = query.extraction && new Set(query.extraction.fields.map((field) => field.toLowerCase()));
  const verdictOf = (segment: StoredSegment, filterOf: FilterOf): Verdict => {
    const context = { now, currentShape, fleets: fleets.get(segment.source) ?? [] };
    const statistics = known.get(segment.id)?.statistics;
    return judge(query.condition.node, { ...segment, statistics, made }, context, filterOf);
  };
  // First without filters: those that could rule a segment out are noted, and read together.
  const wanted: ColumnOf[] = [];
  const first = segments.map((segment) =>
    verdictOf(segment, (column) => {
      if (known.get(segment.id)?.parts.has(filterName(column))) wanted.push({ segment: segment.id, column });
      return undefined;
    }),
  );
  await headers.readFilters(wanted, known);
  const isFiltered = new Set(wanted.map(({ segment }) => segment));
  const byMinutes = isCountedByMinutes(query);
  return segments.flatMap((segment, index) => {
    const before = first[index] as Verdict;
    const { id, tier, source, events, from } = segment;
    const { may, mayNot } =
      before.may && isFiltered.has(id)
        ? verdictOf(segment, (column) => headers.filter({ segment: id, column }))
        : before;
    if (!may) return [];
    const inside = isInside(segment, query.window);
    const minutes = inside && !mayNot && byMinutes ? known.get(id)?.statistics?.minutes : undefined;
    const newest = inOrder(query.order, query.order === 'newest' ? segment.to + 1 : segment.from);
    return { id, tier, source, events, from, newest, inside, holds: !mayNot, minutes };
  });
}

function isInside({ from, to }: StoredSegment, window: TimeWindow): boolean {
  return from >= window.from && to + 1 <= window.to;
}
