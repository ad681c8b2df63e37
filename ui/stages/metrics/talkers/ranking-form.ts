import { array, type InferType, object, string } from 'yup';
import { compileCondition } from '#core/conditions/condition.ts';
import { mostKeys } from '#core/metrics/limits.ts';
import type { MetricDocument } from '#core/plan/parts/metrics/metrics-shape.ts';
import { metricOfRanking } from '#core/plan/parts/rankings/metric-of-ranking.ts';
import type { RankingDocument } from '#core/plan/parts/rankings/rankings-shape.ts';
import { rankingMeasures } from '#core/plan/parts/rankings/rankings-shape.ts';

/** A ranking as it is filled in. */
export type RankingFields = InferType<ReturnType<typeof rankingShape>>;

/** The fields of a ranking, or of one that is begun with some of them. */
export function rankingFields(ranking: Partial<RankingDocument>): RankingFields {
  const { title = '', when = '', by = [], measure = 'events', of = '' } = ranking;
  return { title, when, by: by.map((field) => ({ field })), measure, of };
}

/** The ranking that was filled in. */
export function rankingOf(id: string, { title, when, by, measure, of }: RankingFields): RankingDocument {
  const kind = rankingMeasures.find((one) => one === measure) ?? 'events';
  return {
    ...{ id, title: title.trim(), when, by: by.map(({ field }) => field.trim()), measure: kind },
    ...(kind === 'sum' && { of: of.trim() }),
  };
}

/** What is asked of a ranking; `others` are the titles of the other ones. */
export function rankingShape(others: readonly string[]) {
  return object({
    title: string()
      .trim()
      .required('Enter a title, such as Busiest users.')
      .max(200)
      .test('new', 'Another ranking has this title.', (title) => !others.includes((title ?? '').trim().toLowerCase())),
    when: string()
      .defined()
      .max(20_000)
      .test('condition', 'Fix the condition.', (text) => compileCondition(text ?? '').ok),
    by: array(object({ field: string().trim().required('Choose a field for each key.').max(120) }))
      .min(1, 'Choose the field to rank.')
      .max(mostKeys)
      .required(),
    measure: string().oneOf(rankingMeasures).required(),
    of: string()
      .defined()
      .max(120)
      .when('measure', ([measure], field) =>
        measure === 'sum' ? field.trim().required('Choose the field to sum.') : field,
      ),
  });
}

/** A metric of the same events and keys, by which a ranking is tried on the tape; undefined where it ranks nothing yet. */
export function triedAs({ when, by, measure, of }: RankingFields): MetricDocument | undefined {
  const keys = by.filter(({ field }) => field.trim() !== '');
  if (keys.length === 0 || (measure === 'sum' && of.trim() === '')) return undefined;
  const ranking = rankingOf('tried', { title: '', when, by: keys, measure, of });
  return { id: 'tried', name: 'tried', ...metricOfRanking(ranking) };
}
