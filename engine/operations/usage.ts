import type { UsageAnswer, UsageByNameAnswer } from '#core/answers/usage.ts';
import { dayOf } from '#core/costs/month/calendar.ts';
import { day } from '#core/events/time-units.ts';
import { operations } from '#core/operations/index.ts';
import { usageDays } from '#core/usage/usage.ts';
import { usageByName as byName, firstUsageDay, usageOf } from '#store/people/usage.ts';
import { question } from './handler.ts';

export const usage = question(operations.usage, async ({ kind, name }, services): Promise<UsageAnswer> => {
  const { db } = services.database;
  const now = Date.now();
  await services.usage.saveIfPossible(now);
  const from = dayOf(now) - usageDays;
  const [first, counts] = await Promise.all([
    firstUsageDay(db),
    usageOf(db, { kind, name: kind === 'field' ? name.toLowerCase() : name, from }),
  ]);
  return {
    since: sinceOf(first, from),
    readings: counts
      .map(({ reading, times, lastAt }) => ({ reading, times, lastAt }))
      .sort((a, b) => b.times - a.times),
    oldestAge: counts.length === 0 ? null : Math.max(...counts.map(({ oldestAge }) => oldestAge)),
  };
});

/** Most things that are listed. */
const mostThings = 5_000;

export const usageByName = question(operations.usageByName, async ({ kind }, services): Promise<UsageByNameAnswer> => {
  const { db } = services.database;
  const now = Date.now();
  await services.usage.saveIfPossible(now);
  const from = dayOf(now) - usageDays;
  const [first, things] = await Promise.all([firstUsageDay(db), byName(db, { kind, from, most: mostThings })]);
  return {
    since: sinceOf(first, from),
    things: things.map(({ name, times, oldestAge }) => ({ name, times, oldestAge })),
  };
});

function sinceOf(first: number | undefined, from: number): number | null {
  return first === undefined ? null : Math.max(first, from) * day;
}
