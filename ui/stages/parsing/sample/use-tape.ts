'use client';

import { parseAsString, useQueryState } from 'nuqs';
import { useCallback, useMemo, useState } from 'react';
import { mayTake } from '#core/plan/may-enter.ts';
import { namedSource } from '#core/plan/named-source.ts';
import { useQuestion } from '../../../data/client.ts';

/** Raw lines from the tape to try a pipeline out on. */
export interface TapeSample {
  /** Whose lines they are; empty where no source enters. */
  readonly source: string;
  /** The sources whose events may enter, by name. */
  readonly sources: readonly string[];
  readonly choose: (source: string) => void;
  /** Goes on to the next source, where none was chosen or named: no line of this one enters. */
  readonly skip: (source: string) => void;
  /** Undefined until they have been read. */
  readonly lines: readonly string[] | undefined;
}

/** Most lines of the sample. */
const mostLines = 3000;
const none: readonly string[] = [];

/** Lines of the source that a pipeline's condition names first, or of another one that may enter, as is chosen. */
export function useTape(when: string): TapeSample {
  const [chosen, choose] = useQueryState('of', parseAsString.withDefault(''));
  const { data: known } = useQuestion('sources', {});
  const sources = useMemo(
    () => known?.sources.map(({ name }) => name).filter((name) => mayTake(when, name)) ?? [],
    [known, when],
  );
  const [skipped, setSkipped] = useState({ when, sources: none });
  const passed = skipped.when === when ? skipped.sources : none;
  const first = sources.find((name) => !passed.includes(name)) ?? sources[0] ?? '';
  const source = sources.includes(chosen) ? chosen : namedSource(when) || first;
  const skip = useCallback(
    (name: string) =>
      setSkipped((before) => ({ when, sources: before.when === when ? [...before.sources, name] : [name] })),
    [when],
  );
  const { data, isLoading } = useQuestion('tape', source ? { source, limit: String(mostLines) } : null);
  const lines = useMemo(() => (isLoading ? undefined : data?.lines.map(({ raw }) => raw)), [data, isLoading]);
  return { source, sources, choose: (name) => void choose(name), skip, lines };
}
