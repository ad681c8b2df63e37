import { compileExtraction, type ExtractionText } from '#core/search/extraction.ts';
import { columnsToFetch, type FetchedPartial, fetchRows, newFetched } from '#core/search/search.ts';
import { retryRead } from '#store/retry-read.ts';
import type { SegmentCache, SegmentRef } from '../segment-cache.ts';

/** Rows of a segment: those to make lines of, and those to look at for what they have in common. */
export interface FetchRef extends SegmentRef {
  readonly lines: Int32Array;
  readonly fields: Int32Array;
}

/** The second pass of a search over some segments. */
export interface FetchTask {
  readonly kind: 'fetch';
  readonly segments: readonly FetchRef[];
  /** Fields that the events have for this search alone. */
  readonly extraction?: ExtractionText | undefined;
}

/** Makes whole events of a few rows of some segments, and gathers what others have in common. */
export async function fetch(cache: SegmentCache, { segments, extraction: text }: FetchTask): Promise<FetchedPartial> {
  const partial = newFetched();
  const compiled = text && compileExtraction(text);
  const extraction = compiled?.ok ? compiled.extraction : undefined;
  const batches = await retryRead(() =>
    cache.batches(segments, (_, index) =>
      columnsToFetch(extraction !== undefined || (segments[index] as FetchRef).lines.length > 0),
    ),
  );
  batches.forEach((batch, index) => {
    if (batch) fetchRows(partial, batch, segments[index] as FetchRef, extraction);
  });
  return partial;
}
