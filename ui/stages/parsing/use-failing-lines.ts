'use client';

import useSWR from 'swr';
import { callApi } from '../../data/use-api.ts';
import { type FailureCount, useFailures } from './use-failures.ts';

interface Answer {
  readonly events: readonly { readonly body: string }[];
}

/** Reasons that lines are looked for of, and lines of each. */
const mostReasons = 8;
const linesOfReason = 3;
const none: readonly string[] = [];

/**
 * Lines of a source that a step of the live plan could not handle in the last three hours, some of each reason: the sample may
 * hold none of the rare ones. `rule` is the pipeline with the number of the step, such as `tides/1`.
 */
export function useFailingLines(source: string, rule: string): readonly string[] {
  const failures = useFailures();
  const reasons = failures.filter((failure) => failure.rule === rule).slice(0, mostReasons);
  const key =
    source !== '' && reasons.length > 0
      ? `failing-lines ${source} ${rule} ${reasons.map(({ reason }) => reason)}`
      : null;
  const { data } = useSWR(key, async () => {
    const found = await Promise.all(reasons.map((failure) => linesOf(source, failure)));
    return found.flat();
  });
  return data ?? none;
}

async function linesOf(source: string, { rule, reason }: FailureCount): Promise<readonly string[]> {
  const { events } = await callApi<Answer>('/api/search', {
    method: 'POST',
    body: JSON.stringify({
      condition: `source = ${source} parse.failed = ${JSON.stringify(`${rule}: ${reason}`)}`,
      from: '-3h',
      to: 'now',
      limit: linesOfReason,
      buckets: 0,
    }),
  });
  return events.map(({ body }) => body);
}
