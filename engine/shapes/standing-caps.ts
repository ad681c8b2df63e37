import type { CapsAnswer, CapView } from '#core/answers/caps.ts';
import { day, hour } from '#core/events/time-units.ts';
import { isLifted } from '#core/plan/parts/tiers/lifted-cap.ts';
import type { TierDocument } from '#core/plan/parts/tiers/tiers-shape.ts';
import { withSwitched } from '#core/plan/postures.ts';
import { type CapUnit, isPastCap, parseDayAmount } from '#core/routing/cap.ts';
import { forecastCap, type HourSum, suggestCap } from '#core/routing/cap-forecast.ts';
import { daysOf, type ZoneDay } from '#core/routing/day-of-zone.ts';
import { amountOf, type VolumeSum } from '#core/routing/volume-sums.ts';
import type { Database } from '#store/database.ts';
import { overflowedShapes } from '#store/events/shapes.ts';
import { type CapDay, listCapDays } from '#store/volume/cap-days.ts';
import { sumLedger } from '#store/volume/ledger.ts';
import { cachedFor } from '../base/cached-for.ts';
import type { PlanHolder } from '../plan/live-plan.ts';
import type { PlanSwitches } from '../plan/plan-switches.ts';
import type { ShapeCatalogue } from './shape-catalogue.ts';

/** Days of the past that are looked at. */
const daysBack = 15;
/** Most sources and shapes of what is over that are listed. */
const mostShown = 5;
/** For how long (milliseconds) the same answer is given again. */
const freshFor = 10_000;

/** How a cap stands, with the sums by source of what went past it today: what that costs is reckoned as it is asked for. */
export interface StandingCap extends Omit<CapView, 'saves'> {
  readonly pastCap: readonly VolumeSum[];
}

interface StandingCaps extends Pick<CapsAnswer, 'suggestions'> {
  readonly views: readonly StandingCap[];
}

/** How caps stand at a time (milliseconds). */
export type ReadCaps = (now: number) => Promise<StandingCaps>;

interface Services {
  readonly database: Database;
  readonly plan: Pick<PlanHolder, 'current'>;
  readonly switches: PlanSwitches;
  readonly shapes: ShapeCatalogue;
}

/** Reads how caps stand, once in some seconds for all who ask. */
export function standingCaps(services: Services): ReadCaps {
  return cachedFor(freshFor, (now) => gather(services, now));
}

async function gather(services: Services, now: number): Promise<StandingCaps> {
  const { database, plan: holder, switches } = services;
  const { plan: live } = holder.current();
  const { tiers } = withSwitched(live, switches.at(now));
  const capped = tiers.filter(({ cap }) => cap).map(({ id }) => id);
  const window = { from: now - daysBack * day, to: now + hour };
  const [sums, today, used] = await Promise.all([
    sumLedger(database, window, ['outcome', 'tier', 'rule'], hour),
    capped.length > 0
      ? sumLedger(database, { from: now - 26 * hour, to: now + hour }, ['source', 'outcome', 'tier', 'rule'], hour)
      : [],
    listCapDays(database.db, capped, { from: now - 2 * day, to: now + day }),
  ]);
  const views = tiers.flatMap((tier) =>
    tier.cap ? [viewOf(tier, tier.cap.zone ?? 'UTC', { sums, today, used, now })] : [],
  );
  return {
    views: await Promise.all(views.map((view) => withShapes(services, view))),
    suggestions: tiers.map(({ id, cap }) => {
      const hours = (unit: CapUnit) => hoursOf(sums, id, unit);
      const dayOf = daysOf(cap?.zone ?? 'UTC');
      const full = daysBefore(dayOf, now);
      const suggest = (unit: CapUnit) =>
        suggestCap(hours(unit), full, forecastCap(hours(unit), dayOf(now), now, Number.POSITIVE_INFINITY), unit) ??
        null;
      return { tier: id, events: suggest('events'), bytes: suggest('bytes') };
    }),
  };
}

/** The days before the one at hand, the latest first, as far back as is looked. */
function daysBefore(dayOf: (time: number) => ZoneDay, now: number): readonly ZoneDay[] {
  const days: ZoneDay[] = [];
  for (
    let before = dayOf(now).start - 1;
    before > now - (daysBack - 1) * day;
    before = (days.at(-1) as ZoneDay).start - 1
  )
    days.push(dayOf(before));
  return days;
}

/** By the hour what a tier wanted to keep: what it kept, and what its cap sent elsewhere. */
function hoursOf(sums: readonly VolumeSum[], tier: string, unit: CapUnit): readonly HourSum[] {
  return sums
    .filter((sum) => (sum.tier === tier && sum.outcome === 'kept') || isPastCap(sum, tier))
    .map((sum) => ({ start: sum.start, amount: sum[unit] }));
}

function viewOf(
  { id, cap }: TierDocument,
  zone: string,
  of: {
    readonly sums: readonly VolumeSum[];
    readonly today: readonly VolumeSum[];
    readonly used: readonly CapDay[];
    readonly now: number;
  },
): StandingCap {
  const { unit, amount } = parseDayAmount(cap?.day ?? '') ?? { unit: 'bytes', amount: 0 };
  const ofDay = daysOf(zone)(of.now);
  const row = of.used.find(({ tier, day: start }) => tier === id && start === ofDay.start);
  const over = of.today.filter((sum) => sum.start >= ofDay.start && isPastCap(sum, id));
  const sources = [...new Set(over.map(({ source = '' }) => source))]
    .map((source) => ({ source, ...amountOf(over.filter((sum) => sum.source === source)) }))
    .sort((a, b) => b.bytes - a.bytes);
  const kept =
    row ?? amountOf(of.sums.filter((sum) => sum.tier === id && sum.outcome === 'kept' && sum.start >= ofDay.start));
  return {
    ...{ tier: id, unit, amount, isLifted: cap !== undefined && isLifted(cap), day: ofDay },
    kept: { events: kept.events, bytes: kept.bytes },
    over: { events: row?.overEvents ?? 0, bytes: row?.overBytes ?? 0 },
    overSince: over.length > 0 ? Math.min(...over.map(({ start }) => start)) : null,
    sources: sources.slice(0, mostShown),
    shapes: [],
    forecast: forecastCap(hoursOf(of.sums, id, unit), ofDay, of.now, amount) ?? null,
    pastCap: over,
  };
}

async function withShapes({ database, shapes }: Services, view: StandingCap): Promise<StandingCap> {
  if (view.over.events === 0) return view;
  const sums = await overflowedShapes(database, view.tier, { from: view.day.start, to: view.day.end }, mostShown);
  return {
    ...view,
    shapes: sums.map(({ shape, events, bytes }) => ({ shape, events, bytes, sample: shapes.get(shape)?.sample ?? '' })),
  };
}
