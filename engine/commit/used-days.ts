import type { PlanDocument } from '#core/plan/document.ts';
import type { UsedDay } from '#core/routing/allowances.ts';
import { daysOf } from '#core/routing/day-of-zone.ts';
import { beginCapDay, listCapDays } from '#store/cap-days.ts';
import type { Database } from '#store/database.ts';
import type { Delivery } from '../intake/delivery.ts';

const day = 86_400_000;

/**
 * What is used of the days of a plan's tiers with caps on which deliveries (at least one) arrived; undefined where no
 * tier has a cap. A day that nobody has begun is begun with what its tier kept already.
 */
export async function usedDays(
  database: Database,
  { tiers }: PlanDocument,
  deliveries: readonly Pick<Delivery, 'received' | 'backfill'>[],
): Promise<readonly UsedDay[] | undefined> {
  const capped = tiers.flatMap(({ id, cap }) => (cap ? [{ id, dayOf: daysIn(cap.zone ?? 'UTC') }] : []));
  if (capped.length === 0) return undefined;
  const ids = capped.map(({ id }) => id);
  const received = deliveries.filter(({ backfill }) => !backfill).map((delivery) => delivery.received);
  // History may be of any day.
  const isHistory = received.length < deliveries.length;
  const from = isHistory ? 0 : received.reduce((least, at) => Math.min(least, at)) - 2 * day;
  const window = { from, to: Date.now() + 2 * day };
  const known = await listCapDays(database.db, ids, window);
  const missing = capped.flatMap(({ id, dayOf }) =>
    [...new Map(received.map((at) => [dayOf(at).start, dayOf(at)])).values()]
      .filter(({ start }) => !known.some((one) => one.tier === id && one.day === start))
      .map((of) => ({ id, of })),
  );
  if (missing.length === 0) return known;
  for (const { id, of } of missing) await beginCapDay(database, id, of);
  return await listCapDays(database.db, ids, window);
}

const days = new Map<string, ReturnType<typeof daysOf>>();

/** As {@link daysOf}; each zone is looked up once. */
function daysIn(zone: string): ReturnType<typeof daysOf> {
  let found = days.get(zone);
  if (!found) days.set(zone, (found = daysOf(zone)));
  return found;
}
