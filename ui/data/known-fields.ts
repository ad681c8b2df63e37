'use client';

import type { FieldSummary } from '#core/search/field-summary.ts';
import { useQuestion } from './client.ts';

const noFields: readonly FieldSummary[] = [];
/** How long an answer is cached (milliseconds); each one takes a search. */
const freshFor = 60_000;

/** The fields of recent events with their values, for completion; none while they are loading or not wanted yet. */
export function useKnownFields(isWanted = true): readonly FieldSummary[] {
  const { data } = useQuestion('fields', isWanted ? {} : null, freshFor, freshFor);
  return data?.fields ?? noFields;
}
