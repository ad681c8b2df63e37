import type { FollowedSuggestion } from '#core/answers/suggestions.ts';
import { coinsByMonth } from '#core/costs/month/coins-by-month.ts';
import { day, hour } from '#core/events/time-units.ts';
import { piecesOf } from '#core/shapes/pieces.ts';
import { savedByExclusions } from '#core/suggestions/saved-by-exclusions.ts';
import { savingMonths } from '#core/views/saving-months.ts';
import { excludedSince, sumShapes } from '#store/events/shapes.ts';
import { listTaken } from '#store/people/suggestion-decisions.ts';
import type { OperationServices } from '../services.ts';

/** Suggestions that were added to a draft, each with what it saves since its lines are excluded. */
export async function followedSuggestions(
  { database, shapes, costs }: OperationServices,
  now: number,
): Promise<readonly FollowedSuggestion[]> {
  const taken = await listTaken(database.db);
  if (taken.length === 0) return [];
  const ids = taken.map(({ shape }) => shape);
  // An hour of the ledger may have begun before.
  const from = Math.floor(Math.min(...taken.map(({ at }) => at)) / hour) * hour;
  const [since, sums, prices] = await Promise.all([
    excludedSince(database.db, ids, from),
    sumShapes(database, { from: Math.floor(from / day) * day, to: now, ids }, day),
    costs.prices(now),
  ]);
  return taken.map(({ shape, at, tiers, coins, sign }) => {
    const facts = shapes.get(shapes.known.current(shape));
    const excluded = since.get(shape);
    const begun = excluded === undefined ? undefined : Math.max(excluded, at);
    const own = sums.filter((sum) => sum.shape === shape && begun !== undefined && sum.start + day > begun);
    const months =
      prices && begun !== undefined
        ? coinsByMonth(savedByExclusions(own, tiers, prices), { from: begun, to: now }, prices.currency.digits)
        : [];
    return {
      ...{ shape, at, since: begun ?? null, pieces: facts ? piecesOf(facts.skeleton, facts.sample) : [] },
      months: savingMonths(months, { coins, band: 0, sign }, prices?.currency.sign),
    };
  });
}
