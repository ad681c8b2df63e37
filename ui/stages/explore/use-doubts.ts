import { useMemo } from 'react';
import type { Doubt } from '#core/conditions/doubts.ts';
import { wordDoubts } from '#core/conditions/word-doubts.ts';
import type { FieldSummary } from '#core/search/field-summary.ts';
import type { SearchDoubt } from '../../data/answers.ts';
import type { SearchState } from './use-search.ts';

/** What of the search is doubted: by the engine, and words that are values of fields. */
export function useDoubts({ result, answered }: SearchState, fields: readonly FieldSummary[]): readonly SearchDoubt[] {
  return useMemo(() => {
    if (!result || !answered) return [];
    const words = wordDoubts(answered.condition, fields);
    const isKnown = ({ start, end }: Doubt): boolean =>
      result.doubts.some((doubt) => doubt.in === 'condition' && doubt.start < end && doubt.end > start);
    return [
      ...result.doubts,
      ...words.filter((doubt) => !isKnown(doubt)).map((doubt) => ({ in: 'condition' as const, ...doubt })),
    ];
  }, [result, answered, fields]);
}
