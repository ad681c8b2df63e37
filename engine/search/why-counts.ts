import type { Explanation } from '#core/why/causes.ts';
import { addCountedSums, newCountedSums, withCounts } from '#core/why/counted-causes.ts';
import type { EventPrices } from '#core/why/event-prices.ts';
import type { ComparedPeriods } from '#core/why/periods.ts';
import type { QueryText } from '../workers/query.ts';
import type { CountedRef } from '../workers/tasks/why-counts.ts';
import type { SearchSetting } from './run-search.ts';
import { conditionOfCause } from './why-answer.ts';
import type { WhyQuestion } from './why-question.ts';
import type { TimedSegment } from './why-sample-plan.ts';

/** Segments that a thread counts in one task. */
const segmentsPerTask = 8;

/** What is counted. */
export interface CountedChange {
  readonly explanation: Explanation;
  readonly times: ComparedPeriods;
  readonly segments: readonly CountedRef[];
  readonly prices: EventPrices | undefined;
  readonly query: QueryText;
  readonly now: number;
}

/** The segments of the compared periods; one that reaches into two of them is counted for both. */
export function segmentsToCount(
  segments: readonly TimedSegment[],
  { since, before }: ComparedPeriods,
): readonly CountedRef[] {
  return [since, ...before].flatMap((period, number) =>
    segments
      .filter(({ from, to }) => from < period.to && to >= period.from)
      .map(({ id, tier, source, events }) => ({
        id,
        tier,
        source,
        events,
        period: number,
        from: period.from,
        to: period.to,
      })),
  );
}

/**
 * An explanation whose figures are counted over all events instead of sampled; undefined if some of the segments were merged or removed
 * meanwhile, so that events would be missing. Throws when `signal` is aborted.
 */
export async function withExactCounts(
  { pools, fleets }: SearchSetting,
  { measure, measureText }: Pick<WhyQuestion, 'measure' | 'measureText'>,
  { explanation, times, segments, prices, query, now }: CountedChange,
  signal: AbortSignal,
): Promise<Explanation | undefined> {
  const { causes } = explanation;
  const task = {
    ...{ kind: 'whyCounts' as const, query, measure: measureText, before: times.before.length, fleets, now, prices },
    causes: causes.map((cause) => conditionOfCause(cause, '')),
  };
  const sums = newCountedSums(causes.length, times.before.length, measure.width);
  let isWhole = true;
  const lane = async (index: number, queue: CountedRef[]): Promise<void> => {
    for (
      let some = queue.splice(0, segmentsPerTask);
      isWhole && some.length > 0;
      some = queue.splice(0, segmentsPerTask)
    ) {
      signal.throwIfAborted();
      const counted = await pools.read(index, { ...task, segments: some });
      if (counted) addCountedSums(sums, counted);
      else isWhole = false;
    }
  };
  // A thread keeps the segments of its number open.
  const queues = Array.from({ length: pools.readLanes }, (_, index) =>
    segments.filter(({ id }) => id % pools.readLanes === index),
  );
  // While one task waits for the store, the other computes.
  await Promise.all(queues.flatMap((queue, index) => [lane(index, queue), lane(index, queue)]));
  if (!isWhole) return undefined;
  const [first = times.since] = times.before;
  return withCounts(explanation, sums, measure, (times.since.to - times.since.from) / (first.to - first.from));
}
