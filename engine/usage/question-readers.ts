import type { Reader } from '#core/answers/routing.ts';
import { compileCondition } from '#core/conditions/condition.ts';
import { dayOf } from '#core/costs/month/calendar.ts';
import { usageDays } from '#core/usage/usage.ts';
import { widened } from '#core/usage/widened.ts';
import type { Queryable } from '#store/database.ts';
import { questionsSince } from '#store/people/usage.ts';

/** Most questions that are looked at as they are; further ones are widened, and beyond that stand for everything. */
const mostQuestions = 300;
const mostWidened = 300;
const mostRead = 10_000;

/** A question as a reader of the events that match it. */
type QuestionReader = Omit<Reader, 'share'> & { readonly condition: string };

/** The last questions of the last 30 days, at most `most`. */
export async function lastQuestions(db: Queryable, now: number, most: number): Promise<readonly QuestionReader[]> {
  return asReaders(await questionsSince(db, dayOf(now) - usageDays, most));
}

/** All questions of the last 30 days. */
export async function allQuestions(db: Queryable, now: number): Promise<readonly QuestionReader[]> {
  const conditions = await questionsSince(db, dayOf(now) - usageDays, mostRead);
  const wide = new Set(conditions.slice(mostQuestions).map(widened));
  const further = wide.size > mostWidened || conditions.length === mostRead ? [''] : wide;
  return asReaders([...new Set([...conditions.slice(0, mostQuestions), ...further])]);
}

function asReaders(conditions: readonly string[]): readonly QuestionReader[] {
  return conditions
    .filter((condition) => compileCondition(condition).ok)
    .map((condition) => ({ kind: 'question', name: condition, condition }));
}
