import type { EventBatch } from '../events/batch.ts';
import { passingTier } from '../plan/document.ts';
import type { Allowances } from './allowances.ts';
import type { CompiledCap } from './cap.ts';
import type { ZoneDay } from './day-of-zone.ts';
import type { Routing } from './fate.ts';

/** What of the way past the tiers a cap looks at. */
interface CapContext {
  readonly now: number;
  readonly random: () => number;
  readonly allowances: Allowances;
}

/**
 * Sends what a tier would keep beyond its cap another way. Each event counts for the day on which it arrived, so what the
 * ledger calls kept of a day never is more than the day allows.
 */
export function capTier(
  cap: CompiledCap,
  tier: string,
  batch: EventBatch,
  context: CapContext,
  routing: Routing,
): void {
  for (const [day, rows] of keptByDay(cap, tier, batch, routing))
    capDay({ cap, tier, day }, rows, batch, context, routing);
}

function keptByDay(
  cap: CompiledCap,
  tier: string,
  batch: EventBatch,
  { fates, fateOf }: Routing,
): ReadonlyMap<ZoneDay, number[]> {
  const byDay = new Map<ZoneDay, number[]>();
  const isKept = fates.map(({ storedIn }) => storedIn === tier);
  let day: ZoneDay = { start: 0, end: 0 };
  let rowsOfDay: number[] = [];
  for (let row = 0; row < batch.rows; row++) {
    if (!isKept[fateOf[row] as number]) continue;
    const received = batch.received[row] as number;
    if (received < day.start || received >= day.end) {
      const found = cap.dayOf(received);
      day = [...byDay.keys()].find(({ start }) => start === found.start) ?? found;
      rowsOfDay = byDay.get(day) ?? [];
      byDay.set(day, rowsOfDay);
    }
    rowsOfDay.push(row);
  }
  return byDay;
}

function capDay(
  { cap, tier, day }: { readonly cap: CompiledCap; readonly tier: string; readonly day: ZoneDay },
  rows: readonly number[],
  batch: EventBatch,
  { now, random, allowances }: CapContext,
  routing: Routing,
): void {
  const events = rows.map((row) => batch.weight[row] as number);
  const bytes = rows.map((row, place) => (events[place] as number) * (batch.size[row] as number));
  const costs = cap.unit === 'events' ? events : bytes;
  const { room, left } = allowances.room(tier, cap, day, now);
  const fits = costs.reduce((sum, cost) => sum + cost, 0) <= room;
  const stay = fits ? undefined : cap.overflow.stay({ batch, rows, costs, room, left, random });
  const amounts = { events: 0, bytes: 0, overEvents: 0, overBytes: 0 };
  const over: number[] = [];
  for (const [place, row] of rows.entries()) {
    const standsFor = stay ? (stay[place] as number) : 1;
    amounts[standsFor > 0 ? 'events' : 'overEvents'] += events[place] as number;
    amounts[standsFor > 0 ? 'bytes' : 'overBytes'] += bytes[place] as number;
    if (standsFor > 0) routing.weight[row] = (routing.weight[row] as number) * standsFor;
    else over.push(row);
  }
  allowances.book(tier, cap, day, amounts);
  if (over.length > 0) sendOn({ cap, tier, day }, over, amounts.events > 0, routing);
}

/** Gives what is over its way. */
function sendOn(
  { cap, tier, day }: { readonly cap: CompiledCap; readonly tier: string; readonly day: ZoneDay },
  over: readonly number[],
  isStoodFor: boolean,
  routing: Routing,
): void {
  const { fates, fateOf, passedOn, overflowOf } = routing;
  const { kind } = cap.overflow;
  if (kind === 'refuse') routing.refusedBy ??= { tier, until: day.end };
  if (cap.to !== undefined) {
    const others = passedOn.get(cap.to) ?? [];
    passedOn.set(cap.to, [...others, { from: tier, rows: over }]);
    for (const row of over) overflowOf.set(row, tier);
    return;
  }
  // What a sample stands for must not be found a second time.
  const passes = cap.overflow.passes || !isStoodFor;
  const storedIn = passes ? passingTier.id : undefined;
  const fate = fates.push({ outcome: 'overflowed', tier, rule: kind, storedIn }) - 1;
  for (const row of over) {
    fateOf[row] = fate;
    if (passes) overflowOf.set(row, tier);
  }
}
