import { array, type InferType, object, string } from 'yup';
import { compileCondition } from '#core/conditions/condition.ts';
import { mostKeys } from '#core/metrics/limits.ts';
import { type MetricDocument, type RankingDocument, rankingAmounts } from '#core/plan/document.ts';

/** A ranking as it is filled in. */
export type RankingFields = InferType<ReturnType<typeof rankingShape>>;

/** The fields of a ranking, or of one that is begun with some of them. */
export function rankingFields(ranking: Partial<RankingDocument>): RankingFields {
  const { title = '', when = '', by = [], amount = 'events', of = '' } = ranking;
  return { title, when, by: by.map((field) => ({ field })), amount, of };
}

/** The ranking that was filled in. */
export function rankingOf(id: string, { title, when, by, amount, of }: RankingFields): RankingDocument {
  const kind = rankingAmounts.find((one) => one === amount) ?? 'events';
  return {
    ...{ id, title: title.trim(), when, by: by.map(({ field }) => field.trim()), amount: kind },
    ...(kind === 'sum' && { of: of.trim() }),
  };
}

/** What is asked of a ranking; `others` are the titles of the other ones. */
export function rankingShape(others: readonly string[]) {
  return object({
    title: string()
      .trim()
      .required('Give it a title, such as Busiest users.')
      .max(200)
      .test('new', 'Another ranking has this title.', (title) => !others.includes((title ?? '').trim().toLowerCase())),
    when: string()
      .defined()
      .max(20_000)
      .test('condition', 'The condition is not right yet.', (text) => compileCondition(text ?? '').ok),
    by: array(object({ field: string().trim().required('A key has a field.').max(120) }))
      .min(1, 'Say by which field: who is to be ranked?')
      .max(mostKeys)
      .required(),
    amount: string().oneOf(rankingAmounts).required(),
    of: string()
      .defined()
      .max(120)
      .when('amount', ([amount], field) =>
        amount === 'sum' ? field.trim().required('Say of which field the sum is.') : field,
      ),
  });
}

/** A metric of the same events and keys, by which a ranking is tried on the tape; undefined where it ranks nothing yet. */
export function triedAs({ when, by, amount, of }: RankingFields): MetricDocument | undefined {
  const keys = by.filter(({ field }) => field.trim() !== '').map(({ field }) => ({ field: field.trim() }));
  if (keys.length === 0 || (amount === 'sum' && of.trim() === '')) return undefined;
  const tried = { id: 'tried', name: 'tried', when, by: keys };
  if (amount === 'events') return { ...tried, measure: 'count' };
  return { ...tried, measure: 'sum', of: amount === 'bytes' ? 'raw_bytes' : of.trim() };
}
