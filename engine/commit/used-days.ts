import { LRUCache } from 'lru-cache';
import { day } from '#core/events/time-units.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { UsedDay } from '#core/routing/allowances.ts';
import { daysOf } from '#core/routing/day-of-zone.ts';
import type { Database } from '#store/database.ts';
import { beginCapDay, listCapDays } from '#store/volume/cap-days.ts';
import type { Delivery } from '../deliveries/delivery.ts';

/** How long a read is cached (milliseconds). */
const freshFor = 3_000;

/** A cached read and its key. */
interface ReadDays {
  readonly at: number;
  readonly key: string;
  readonly days: readonly UsedDay[];
}

/**
 * Reads what is used of the days of tiers with caps, cached for some seconds. A commit checks its cap again: if it exceeds the
 * cap, it fails, and {@link UsedDays.forget} drops the cache before the retry.
 */
export class UsedDays {
  private last: ReadDays | undefined;

  constructor(private readonly database: Database) {}

  /** Drops the cache. */
  forget(): void {
    this.last = undefined;
  }

  /**
   * What is used of the days of a plan's tiers with caps on which deliveries (at least one) arrived; undefined where no
   * tier has a cap. A day that was not begun under this revision is begun with what its tier kept already.
   */
  async of(designed: Designed, deliveries: readonly Arrived[]): Promise<readonly UsedDay[] | undefined> {
    const { tiers } = designed.plan;
    if (!tiers.some(({ cap }) => cap)) return undefined;
    const now = Date.now();
    const key = keyOfDays(designed, deliveries);
    const { last } = this;
    if (key !== undefined && last?.key === key && now - last.at < freshFor) return last.days;
    const days = await readUsedDays(this.database, designed, deliveries);
    this.last = key === undefined ? undefined : { at: now, key, days };
    return days;
  }
}

interface Designed {
  readonly plan: PlanDocument;
  readonly revision: number;
}

type Arrived = Pick<Delivery, 'received' | 'backfill'>;

/** The cache key: revision and quarters of an hour of the arrivals; undefined for history, which may belong to any day. */
function keyOfDays({ revision }: Designed, deliveries: readonly Arrived[]): string | undefined {
  if (deliveries.some(({ backfill }) => backfill)) return undefined;
  const quarters = new Set(deliveries.map(({ received }) => Math.floor(received / quarter)));
  return `${revision} ${[...quarters].sort((a, b) => a - b)}`;
}

/** In every time zone days begin on a quarter of an hour (milliseconds). */
const quarter = 900_000;

async function readUsedDays(
  database: Database,
  { plan: { tiers }, revision }: Designed,
  deliveries: readonly Arrived[],
): Promise<readonly UsedDay[]> {
  const capped = tiers.flatMap(({ id, cap }) => (cap ? [{ id, dayOf: daysIn(cap.zone ?? 'UTC') }] : []));
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
