import type { FollowedSuggestion } from '#core/answers/suggestions.ts';
import { coinsByMonth } from '#core/costs/month/coins-by-month.ts';
import { day, hour } from '#core/events/time-units.ts';
import { savedByExclusions } from '#core/suggestions/saved-by-exclusions.ts';
import { savingMonths } from '#core/views/saving-months.ts';
import { excludedSince, sumShapes } from '#store/events/shapes.ts';
import { listTaken } from '#store/people/suggestion-decisions.ts';
import type { OperationServices } from '../services.ts';
import { piecesOfShape } from './pieces-of-shape.ts';

/** Suggestions that were added to a draft, each with what it saves since its lines are excluded. */
export async function followedSuggestions(
  services: OperationServices,
  now: number,
): Promise<readonly FollowedSuggestion[]> {
  const { database, shapes, costs } = services;
  const taken = await listTaken(database.db);
  if (taken.length === 0) return [];
  const { current } = shapes.known;
  // What arrived after a shape was merged into another one goes under that.
  const ids = [...new Set(taken.flatMap(({ shape }) => [shape, current(shape)]))];
  // An hour of the ledger may have begun before.
  const from = Math.floor(Math.min(...taken.map(({ at }) => at)) / hour) * hour;
  const [since, sums, prices] = await Promise.all([
    excludedSince(database.db, ids, from),
    sumShapes(database, { from: Math.floor(from / day) * day, to: now, ids }, day),
    costs.prices(now),
  ]);
  return taken.map(({ shape, at, tiers, coins, sign }) => {
    const first = Math.min(
      since.get(shape) ?? Number.POSITIVE_INFINITY,
      since.get(current(shape)) ?? Number.POSITIVE_INFINITY,
    );
    const begun = Number.isFinite(first) ? Math.max(first, at) : undefined;
    const isOfShape = (id: string): boolean => id === shape || id === current(shape);
    const own = sums.filter((sum) => isOfShape(sum.shape) && begun !== undefined && sum.start + day > begun);
    const months =
      prices && begun !== undefined
        ? coinsByMonth(savedByExclusions(own, tiers, prices), { from: begun, to: now }, prices.currency.digits)
        : [];
    return {
      ...{ shape, at, since: begun ?? null, pieces: piecesOfShape(services, shape) },
      months: savingMonths(months, { coins, band: 0, sign }, prices?.currency.sign),
    };
  });
}
