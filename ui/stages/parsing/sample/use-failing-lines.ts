'use client';

import useSWR from 'swr';
import { equals } from '#core/conditions/write.ts';
import { call } from '../../../data/client.ts';
import { type FailureCount, useFailures } from '../use-failures.ts';

/** Most reasons, and most lines of each. */
const mostReasons = 8;
const linesOfReason = 3;
const none: readonly string[] = [];

/**
 * Lines of a source that failed in a step of the live plan in the last three hours, some for each reason, because rare failures
 * may be missing from the sample. `rule` is the pipeline with the number of the step, such as `tides/1`.
 */
export function useFailingLines(source: string, rule: string): readonly string[] {
  const failures = useFailures();
  const reasons = failures.filter((failure) => failure.rule === rule).slice(0, mostReasons);
  // Loaded once a visit: lines are traced and marked by their place in the sample.
  const key = source !== '' && reasons.length > 0 ? `failing-lines ${source} ${rule}` : null;
  const { data } = useSWR(
    key,
    async () => (await Promise.all(reasons.map((failure) => linesOf(source, failure)))).flat(),
    { revalidateOnFocus: false, revalidateOnReconnect: false },
  );
  return data ?? none;
}

async function linesOf(source: string, { rule, reason }: FailureCount): Promise<readonly string[]> {
  const { events } = await call('search', {
    condition: `${equals('source', source)} ${equals('parse.failed', `${rule}: ${reason}`)}`,
    from: '-3h',
    to: 'now',
    limit: linesOfReason,
    buckets: 0,
  });
  return events.map(({ body }) => body);
}
