import type { ExtractionText } from '#core/search/extraction.ts';
import type { FoundRows } from '#core/search/newest.ts';
import type { SearchOrder } from '#core/search/order.ts';
import { type FetchedPartial, mergeFetched, newFetched } from '#core/search/search.ts';
import type { Pools } from '../workers/pools.ts';
import type { SegmentRef } from '../workers/segment-cache.ts';
import type { FetchRef } from '../workers/tasks/fetch.ts';

/** Segments of which a worker fetches rows at a time. */
const segmentsAtOnce = 16;

/** Rows to be read in whole. */
export interface RowsToFetch {
  /** To make events of. */
  readonly lines: readonly FoundRows[];
  /** To look at for what they have in common. */
  readonly fields: readonly FoundRows[];
  /** The segments that they are in, by their ids. */
  readonly segments: ReadonlyMap<number, SegmentRef>;
  readonly order: SearchOrder;
  /** Fields that the events have for this search alone. */
  readonly extraction: ExtractionText | undefined;
}

const none = new Int32Array(0);

/** The second pass of a search: reads some rows in whole. Aborting the signal stops it between two pieces of work. */
export async function fetchNewest(
  pools: Pools,
  { lines, fields, segments, order, extraction }: RowsToFetch,
  signal: AbortSignal,
): Promise<FetchedPartial> {
  const fetched = newFetched();
  const linesOf = rowsBySegment(lines);
  const fieldsOf = rowsBySegment(fields);
  const refs = [...new Set([...linesOf.keys(), ...fieldsOf.keys()])].flatMap((id): readonly FetchRef[] => {
    const segment = segments.get(id);
    if (!segment) return [];
    const { tier, source, events } = segment;
    return [{ id, tier, source, events, lines: linesOf.get(id) ?? none, fields: fieldsOf.get(id) ?? none }];
  });
  const lane = async (index: number): Promise<void> => {
    const wanted = refs.filter(({ id }) => id % pools.readLanes === index);
    for (let at = 0; at < wanted.length; at += segmentsAtOnce) {
      signal.throwIfAborted();
      const some = wanted.slice(at, at + segmentsAtOnce);
      mergeFetched(fetched, await pools.read(index, { kind: 'fetch', segments: some, extraction }), order);
    }
  };
  await Promise.all(Array.from({ length: pools.readLanes }, (_, index) => lane(index)));
  return fetched;
}

function rowsBySegment(found: readonly FoundRows[]): ReadonlyMap<number, Int32Array> {
  return new Map(found.map(({ segment, rows }) => [segment, rows]));
}
