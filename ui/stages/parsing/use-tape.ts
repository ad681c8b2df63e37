'use client';

import { parseAsString, useQueryState } from 'nuqs';
import { useMemo } from 'react';
import { mayTake } from '#core/plan/may-enter.ts';
import { namedSource } from '#core/plan/named-source.ts';
import { useApi } from '../../data/use-api.ts';

/** Raw lines from the tape to try a pipeline out on. */
export interface TapeSample {
  /** Whose lines they are; empty where no source enters. */
  readonly source: string;
  /** The sources whose events may enter, by name. */
  readonly sources: readonly string[];
  readonly choose: (source: string) => void;
  readonly lines: readonly string[];
}

/** Most lines of the sample. */
const mostLines = 1000;
const noLines: readonly string[] = [];

/** Lines of the source that a pipeline's condition names first, or of another one that may enter, as is chosen. */
export function useTape(when: string): TapeSample {
  const [chosen, choose] = useQueryState('of', parseAsString.withDefault(''));
  const { data: known } = useApi<{ readonly sources: readonly { readonly name: string }[] }>('/api/sources');
  const sources = useMemo(
    () => known?.sources.map(({ name }) => name).filter((name) => mayTake(when, name)) ?? [],
    [known, when],
  );
  const source = sources.includes(chosen) ? chosen : namedSource(when) || (sources[0] ?? '');
  const { data } = useApi<{ readonly lines: readonly { readonly raw: string }[] }>(
    source ? `/api/tape?source=${source}&limit=${mostLines}` : null,
  );
  const lines = useMemo(() => data?.lines.map(({ raw }) => raw) ?? noLines, [data]);
  return { source, sources, choose: (name) => void choose(name), lines };
}
