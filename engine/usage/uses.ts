import type { SearchAnswer } from '#core/answers/search.ts';
import { conditionOf } from '#core/conditions/condition.ts';
import { parseSummary } from '#core/summaries/parse-summary.ts';
import { summaryFields } from '#core/summaries/summary.ts';
import type { Reading, Use } from '#core/usage/usage.ts';
import type { QueryText } from '../workers/query.ts';
import type { ReadSources } from './read-sources.ts';

/** What a search read: the events that it shows; without lines, all events that it counted. Times in milliseconds. */
export function usedBySearch(query: QueryText, { events }: SearchAnswer, read: ReadSources, now: number): Use {
  if (query.summary !== '' || query.limit === 0) return usedInSources('summary', query, read, now);
  const oldest = events.reduce((time, event) => Math.min(time, event.time), now);
  return {
    ...{ reading: 'search', condition: query.condition, oldestAge: now - oldest },
    things: {
      source: new Set(events.map(({ source }) => source)),
      tier: new Set(events.map(({ tier }) => tier)),
      shape: new Set(events.flatMap(({ shape }) => shape ?? [])),
      field: fieldsOf(query),
    },
  };
}

/** What a question read that used all matching events of some sources and tiers. Times in milliseconds. */
export function usedInSources(
  reading: Reading,
  query: Pick<QueryText, 'condition' | 'summary'>,
  { sources, tiers, oldest }: ReadSources,
  now: number,
): Use {
  return {
    ...{ reading, condition: query.condition, oldestAge: sources.size > 0 ? Math.max(0, now - oldest) : 0 },
    things: { source: sources, tier: tiers, field: fieldsOf(query) },
  };
}

function fieldsOf({ condition, summary }: Pick<QueryText, 'condition' | 'summary'>): ReadonlySet<string> {
  const parsed = summary === '' ? undefined : parseSummary(summary);
  const names = [...conditionOf(condition).attributes, ...(parsed?.ok ? summaryFields(parsed.summary) : [])];
  return new Set(names.map((name) => name.toLowerCase()));
}

/** What a chart of metrics read that begins at `from`. Times in milliseconds. */
export function usedMetrics(ids: Iterable<string>, from: number, now: number): Use {
  return { reading: 'metric', condition: '', things: { metric: ids }, oldestAge: now - from };
}
