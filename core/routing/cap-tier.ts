import type { EventBatch } from '../events/batch.ts';
import type { Allowances } from './allowances.ts';
import { passingTier } from './built-in-tiers.ts';
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
  const { allowances, now } = context;
  for (const sum of keptByDay(cap, tier, batch, routing)) {
    const { room, left } = allowances.room(tier, cap, sum.day, now);
    const capped = { cap, tier, day: sum.day };
    if (sum[cap.unit] <= room) allowances.book(tier, cap, sum.day, { ...sum, overEvents: 0, overBytes: 0 });
    else capDay(capped, { room, left }, batch, context, routing);
  }
}

/** What a tier would keep of a day. */
interface DaySum {
  readonly day: ZoneDay;
  events: number;
  bytes: number;
}

/** Whether each of the fates is to be kept in a tier. */
function keeps(tier: string, { fates }: Routing): readonly boolean[] {
  return fates.map(({ storedIn }) => storedIn === tier);
}

function keptByDay(cap: CompiledCap, tier: string, batch: EventBatch, routing: Routing): readonly DaySum[] {
  const { received, weight, size } = batch;
  const { fateOf } = routing;
  const isKept = keeps(tier, routing);
  const sums: DaySum[] = [];
  let sum: DaySum = { day: { start: 0, end: 0 }, events: 0, bytes: 0 };
  for (let row = 0; row < batch.rows; row++) {
    if (!isKept[fateOf[row] as number]) continue;
    const at = received[row] as number;
    if (at < sum.day.start || at >= sum.day.end) {
      const day = cap.dayOf(at);
      const known = sums.find((one) => one.day.start === day.start);
      sum = known ?? { day, events: 0, bytes: 0 };
      if (!known) sums.push(sum);
    }
    const events = weight[row] as number;
    sum.events += events;
    sum.bytes += events * (size[row] as number);
  }
  return sums;
}

function capDay(
  { cap, tier, day }: { readonly cap: CompiledCap; readonly tier: string; readonly day: ZoneDay },
  allowed: { readonly room: number; readonly left: number },
  batch: EventBatch,
  { random, allowances }: CapContext,
  routing: Routing,
): void {
  const rows = rowsOfDay(tier, day, batch, routing);
  const events = rows.map((row) => batch.weight[row] as number);
  const bytes = rows.map((row, place) => (events[place] as number) * (batch.size[row] as number));
  const costs = cap.unit === 'events' ? events : bytes;
  const stay = cap.overflow.stay({ batch, rows, costs, ...allowed, random });
  const amounts = { events: 0, bytes: 0, overEvents: 0, overBytes: 0 };
  const over: number[] = [];
  for (const [place, row] of rows.entries()) {
    const standsFor = stay[place] as number;
    amounts[standsFor > 0 ? 'events' : 'overEvents'] += events[place] as number;
    amounts[standsFor > 0 ? 'bytes' : 'overBytes'] += bytes[place] as number;
    if (standsFor > 0) routing.weight[row] = (routing.weight[row] as number) * standsFor;
    else over.push(row);
  }
  allowances.book(tier, cap, day, amounts);
  if (over.length > 0) sendOn({ cap, tier, day }, over, amounts.events > 0, routing);
}

function rowsOfDay(tier: string, day: ZoneDay, batch: EventBatch, routing: Routing): readonly number[] {
  const isKept = keeps(tier, routing);
  const rows: number[] = [];
  for (let row = 0; row < batch.rows; row++) {
    const at = batch.received[row] as number;
    if (at >= day.start && at < day.end && isKept[routing.fateOf[row] as number]) rows.push(row);
  }
  return rows;
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
