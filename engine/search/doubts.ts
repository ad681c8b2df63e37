import type { SearchDoubt } from '#core/answers/search.ts';
import { builtInFields } from '#core/conditions/ast.ts';
import { conditionDoubts, type KnownNames } from '#core/conditions/doubts.ts';
import { nearest } from '#core/patterns/nearest.ts';
import { type Summary, summaryFields } from '#core/search/summary.ts';
import type { SegmentHeader } from '#core/segments/header.ts';
import type { StoredSegment } from '#store/segments.ts';
import type { QueryText } from './query.ts';

/** The names that sources, tiers and fleets have now. */
export type NamesNow = Pick<KnownNames, 'sources' | 'tiers' | 'fleets'>;

/**
 * What of a search can hardly be meant as it stands. `segments` are all of its window, whose sources, tiers and fields are
 * known besides those of now; where the fields of one are not known, no field is doubted.
 */
export function doubtsOf(
  { condition }: QueryText,
  summary: Summary | undefined,
  segments: readonly StoredSegment[],
  known: { readonly headers: ReadonlyMap<number, SegmentHeader>; readonly names: NamesNow },
): readonly SearchDoubt[] {
  const { headers, names } = known;
  const found = fieldsOf(segments, headers);
  const fields = found && [...builtInFields, ...found];
  const inCondition = conditionDoubts(condition, {
    fields,
    sources: names.sources && [...names.sources, ...segments.map(({ source }) => source)],
    tiers: names.tiers && [...names.tiers, ...segments.map(({ tier }) => tier)],
    fleets: names.fleets,
  });
  const inSummary = summary && fields ? summaryDoubts(summary, fields) : [];
  return [
    ...inCondition.map((doubt) => ({ in: 'condition' as const, ...doubt })),
    ...inSummary.map((doubt) => ({ in: 'summary' as const, ...doubt })),
  ];
}

/** The fields that the events of some segments have; undefined where that is not known, and where there are none. */
function fieldsOf(
  segments: readonly StoredSegment[],
  headers: ReadonlyMap<number, SegmentHeader>,
): readonly string[] | undefined {
  const names = new Set<string>();
  for (const { id } of segments) {
    const columns = headers.get(id)?.statistics?.columns;
    if (!columns) return undefined;
    for (const name of columns.keys()) {
      const colon = name.indexOf(':');
      if (colon > 0) names.add(name.slice(colon + 1));
    }
  }
  return segments.length > 0 ? [...names] : undefined;
}

function summaryDoubts(summary: Summary, fields: readonly string[]): readonly Omit<SearchDoubt, 'in'>[] {
  const known = new Set(fields.map((field) => field.toLowerCase()));
  return summaryFields(summary)
    .filter((field) => !known.has(field.toLowerCase()))
    .map((field) => {
      const start = Math.max(0, summary.text.indexOf(field));
      const suggestion = nearest(field, fields);
      return {
        message: `no event has a field ${field}`,
        start,
        end: start + field.length,
        ...(suggestion && { suggestion }),
      };
    });
}
