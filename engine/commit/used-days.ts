import { LRUCache } from 'lru-cache';
import type { PlanDocument } from '#core/plan/document.ts';
import type { UsedDay } from '#core/routing/allowances.ts';
import { daysOf } from '#core/routing/day-of-zone.ts';
import { beginCapDay, listCapDays } from '#store/cap-days.ts';
import type { Database } from '#store/database.ts';
import type { Delivery } from '../intake/delivery.ts';

const day = 86_400_000;

/**
 * What is used of the days of a plan's tiers with caps on which deliveries (at least one) arrived; undefined where no
 * tier has a cap. A day that was not begun under this revision is begun with what its tier kept already.
 */
export async function usedDays(
  database: Database,
  { plan: { tiers }, revision }: { readonly plan: PlanDocument; readonly revision: number },
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
      .filter(({ start }) => !begun.has(keyOf(id, start, revision)))
      .map((of) => ({ id, of })),
  );
  if (missing.length === 0) return known;
  for (const { id, of } of missing) {
    await beginCapDay(database, id, of);
    begun.set(keyOf(id, of.start, revision), true);
  }
  return await listCapDays(database.db, ids, window);
}

/** Days that were begun under a revision of the plan: under another one the tier may have been without a cap meanwhile. */
const begun = new LRUCache<string, true>({ max: 2_000 });

function keyOf(tier: string, day: number, revision: number): string {
  return `${tier} ${day} ${revision}`;
}

const days = new Map<string, ReturnType<typeof daysOf>>();

/** As {@link daysOf}; each zone is looked up once. */
function daysIn(zone: string): ReturnType<typeof daysOf> {
  let found = days.get(zone);
  if (!found) days.set(zone, (found = daysOf(zone)));
  return found;
}
