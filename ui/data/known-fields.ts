'use client';

import useSWR from 'swr';
import type { FieldSummary } from '#core/search/field-summary.ts';
import { type ApiProblem, callApi } from './use-api.ts';

interface FieldsAnswer {
  readonly fields: readonly FieldSummary[];
}

const noFields: readonly FieldSummary[] = [];
/** How long an answer is cached (milliseconds); each one takes a search. */
const freshFor = 60_000;

/** The fields of recent events with their values, for completion; none while they are loading or not wanted yet. */
export function useKnownFields(isWanted = true): readonly FieldSummary[] {
  const path = isWanted ? '/api/fields' : null;
  const { data } = useSWR<FieldsAnswer, ApiProblem>(path, (key: string) => callApi<FieldsAnswer>(key), {
    refreshInterval: freshFor,
    dedupingInterval: freshFor,
    keepPreviousData: true,
    revalidateOnFocus: false,
  });
  return data?.fields ?? noFields;
}
