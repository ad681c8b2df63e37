'use client';

import { useMemo } from 'react';
import { day } from '#core/events/time-units.ts';
import type { SummaryTable } from '#core/summaries/summary-table.ts';
import { useQuestion } from '../../../data/client.ts';
import type { SearchRequest } from '../use-search.ts';

/** With which earlier time a summary can be compared. */
export const earlierTimes = ['nothing', 'the day before', 'the week before'] as const;
export type EarlierTime = (typeof earlierTimes)[number];

const shifts: Readonly<Record<EarlierTime, number>> = {
  nothing: 0,
  'the day before': day,
  'the week before': 7 * day,
};

/** A summary of an earlier time, and by how much earlier it is (milliseconds). */
export interface Earlier {
  readonly table: SummaryTable;
  readonly shift: number;
}

/** The same summary over the same hours of an earlier time; undefined where none is asked for, or not there yet. */
export function useEarlier(asked: SearchRequest, time: EarlierTime): Earlier | undefined {
  const shift = shifts[time];
  const question = { ...asked, from: asked.from - shift, to: asked.to - shift };
  const { data, isLoading } = useQuestion('search', shift > 0 ? question : null);
  const table = shift > 0 && !isLoading ? data?.summary : undefined;
  return useMemo(() => table && { table, shift }, [table, shift]);
}
