import { conditionOf } from '#core/conditions/condition.ts';
import { compileExtraction, type ExtractionText } from '#core/search/extraction.ts';
import { bucketsFor } from '#core/search/histogram.ts';
import type { SearchOrder } from '#core/search/order.ts';
import type { SearchQuery } from '#core/search/search.ts';
import { parseSummary } from '#core/summaries/parse-summary.ts';

/** A query as it is sent between threads. Times in milliseconds; `summary` is empty for none. */
export interface QueryText {
  readonly condition: string;
  readonly from: number;
  readonly to: number;
  readonly limit: number;
  /** False: what is found is not counted, and read no further than the events that are returned lie. */
  readonly count?: boolean | undefined;
  /** The newest, where nothing is said. */
  readonly order?: SearchOrder;
  readonly buckets: number;
  readonly fields: boolean;
  readonly summary: string;
  /** A line template whose fields events have for this search alone. */
  readonly extraction?: ExtractionText | undefined;
}

/** The query that a text says; the text was checked when it came in. */
export function queryOf(text: QueryText): SearchQuery {
  const parsed = text.summary === '' ? undefined : parseSummary(text.summary);
  const compiled = text.extraction && compileExtraction(text.extraction);
  return {
    condition: conditionOf(text.condition),
    window: { from: text.from, to: text.to },
    limit: text.limit,
    order: text.order ?? 'newest',
    isCounted: text.count ?? true,
    buckets: bucketsFor(text, text.buckets),
    fields: text.fields,
    ...(parsed?.ok && { summary: parsed.summary }),
    ...(compiled?.ok && { extraction: compiled.extraction }),
  };
}
