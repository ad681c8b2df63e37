import type { Reader } from '#core/answers/routing.ts';
import { compileCondition } from '#core/conditions/condition.ts';
import { dayOf } from '#core/costs/month/calendar.ts';
import { usageDays } from '#core/usage/usage.ts';
import type { Queryable } from '#store/database.ts';
import { questionsSince } from '#store/people/usage.ts';

/** Most questions that are looked at; with more, one that stands for everything is added. */
const mostQuestions = 500;

/** The questions of the last 30 days, as readers of the events that match them. */
export async function questionReaders(
  db: Queryable,
  now: number,
): Promise<readonly (Omit<Reader, 'share'> & { readonly condition: string })[]> {
  const conditions = await questionsSince(db, dayOf(now) - usageDays, mostQuestions + 1);
  const some = conditions.length > mostQuestions ? [...conditions.slice(0, mostQuestions), ''] : conditions;
  return some
    .filter((condition) => compileCondition(condition).ok)
    .map((condition) => ({ kind: 'question', name: condition, condition }));
}
