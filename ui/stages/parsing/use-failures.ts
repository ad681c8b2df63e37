'use client';

import useSWR from 'swr';
import { call } from '../../data/client.ts';

/** Events that a step could not handle, by step and reason. */
export interface FailureCount {
  /** `pipeline/number`. */
  readonly rule: string;
  readonly reason: string;
  readonly count: number;
}

/** What did not fit in the last three hours, most frequent first. */
export function useFailures(): readonly FailureCount[] {
  const { data } = useSWR(
    'failures',
    () =>
      call('search', {
        condition: 'has parse.failed',
        from: '-3h',
        to: 'now',
        limit: 0,
        buckets: 0,
        show: 'count() by parse.failed top 20',
        background: true,
      }),
    { refreshInterval: 20_000 },
  );
  return (data?.summary?.rows ?? []).map(([failure, count]) => {
    const text = String(failure);
    const colon = text.indexOf(': ');
    return { rule: text.slice(0, colon), reason: text.slice(colon + 2), count: Number(count) };
  });
}
