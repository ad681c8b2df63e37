import type { SearchDoubt } from '#core/answers/search.ts';
import { builtInFields } from '#core/conditions/ast.ts';
import { conditionDoubts } from '#core/conditions/doubts.ts';
import type { Extraction } from '#core/search/extraction.ts';
import type { Summary } from '#core/summaries/summary.ts';
import { summaryDoubts } from '#core/summaries/summary-doubts.ts';
import type { StoredSegment } from '#store/events/segments.ts';

/** The names that sources, tiers and fleets have now. */
export interface NamesNow {
  readonly sources: readonly string[];
  readonly tiers: readonly string[];
  readonly fleets: readonly string[];
}

/** What is doubted: the condition as it was written, a summary, and what is extracted. */
interface Doubted {
  readonly condition: string;
  readonly summary?: Summary;
  readonly extraction?: Extraction;
}

/**
 * What of a search can hardly be meant as it stands. `segments` are all of its window, whose sources and tiers are known
 * besides those of now; `fields` are those that their events have: absent, and no field is doubted.
 */
export function doubtsOf(
  { condition, summary, extraction }: Doubted,
  segments: readonly StoredSegment[],
  known: { readonly fields?: ReadonlySet<string>; readonly names: NamesNow },
): readonly SearchDoubt[] {
  const { sources, tiers, fleets } = known.names;
  const made = extraction?.fields ?? [];
  const fields = known.fields && [...builtInFields, ...known.fields, ...made];
  const inCondition = conditionDoubts(condition, {
    fields,
    sources: [...sources, ...segments.map(({ source }) => source)],
    tiers: [...tiers, ...segments.map(({ tier }) => tier)],
    fleets,
  });
  const inSummary = summary && fields ? summaryDoubts(summary, fields) : [];
  return [
    ...inCondition.map((doubt) => ({ in: 'condition' as const, ...doubt })),
    ...inSummary.map((doubt) => ({ in: 'summary' as const, ...doubt })),
    ...(extraction ? madeTwice(extraction, known.fields) : []),
  ];
}

/** Fields of a template that events have already: for this search they give way. */
function madeTwice({ fields, template }: Extraction, known: ReadonlySet<string> | undefined): readonly SearchDoubt[] {
  return fields
    .filter((field) => known?.has(field))
    .map((field) => {
      const start = Math.max(0, template.indexOf(`{${field}`));
      const message = `events have a field ${field} already; for this search it is what the template gives`;
      return { in: 'with' as const, message, start, end: start + field.length + 1 };
    });
}
