import type { Attention } from '#core/answers/overview.ts';
import { day, hour, minute } from '#core/events/time-units.ts';
import { timesUsual, usualRate } from '#core/health/surge.ts';
import { limitOf } from '#core/plan/parts/metrics/metric.ts';
import {
  attentionFromBudgets,
  attentionFromCaps,
  attentionFromClock,
  attentionFromDisk,
  attentionFromHealth,
  attentionFromLedger,
  attentionFromMetrics,
  attentionFromQuarantine,
  attentionFromRevision,
  attentionFromSurges,
} from '#core/views/attention.ts';
import type { Database } from '#store/database.ts';
import { countQuarantine } from '#store/events/quarantine.ts';
import { tierContents } from '#store/events/segments.ts';
import { listDrifts } from '#store/sources/drifts.ts';
import { type LedgerSum, sumLedger } from '#store/volume/ledger.ts';
import { cachedFor } from '../base/cached-for.ts';
import type { Costs } from '../costs/costs.ts';
import { bySource } from '../health/by-source.ts';
import type { HealthRegistry } from '../health/registry.ts';
import { metricSeries } from '../metrics/metric-series.ts';
import type { PlanHolder } from '../plan/live-plan.ts';
import { lastHourOfRevision } from '../plan/revision-timeline.ts';
import type { JumpMinutes } from '../search/jump-minutes.ts';
import type { ReadCaps } from '../shapes/standing-caps.ts';
import type { SourceDirectory } from '../sources/source-directory.ts';
import type { ClockGuard } from '../watches/clock-guard.ts';
import type { DiskWatch } from '../watches/disk-watch.ts';
import { healthAnswer } from './sources/health-answer.ts';

const freshFor = 15_000;

/** What takes the store some work and is asked for by every screen. */
export interface StatusCache {
  /** What needs someone, from the health of sources and the ledger of the last two weeks. */
  readonly attention: (now: number) => Promise<readonly Attention[]>;
  /** What each tier holds. */
  readonly contents: (now: number) => ReturnType<typeof tierContents>;
}

interface Services {
  readonly database: Database;
  readonly plan: Pick<PlanHolder, 'current'>;
  readonly directory: SourceDirectory;
  readonly health: HealthRegistry;
  readonly disk: Pick<DiskWatch, 'free' | 'fullSince' | 'isFull'>;
  readonly clock: Pick<ClockGuard, 'leapAt'>;
  readonly costs: Costs;
  readonly caps: ReadCaps;
  readonly jumpMinutes: JumpMinutes;
}

/** What all screens ask for; at most some seconds old. */
export function statusCache(services: Services): StatusCache {
  const gathered = cachedFor(freshFor, (now) => gather(services, now));
  return {
    // Money is turned off at once.
    attention: async (now) => [
      ...(services.disk.isFull ? [attentionFromDisk(services.disk.free ?? 0, services.disk.fullSince)] : []),
      ...clockAhead(services, now),
      ...(await gathered(now)),
      ...attentionFromBudgets(await services.costs.month(now), now),
    ],
    contents: cachedFor(freshFor, () => tierContents(services.database)),
  };
}

function clockAhead({ clock }: Services, now: number): readonly Attention[] {
  const leap = clock.leapAt(now);
  return leap ? [attentionFromClock(leap.leapt, leap.heldUntil, now)] : [];
}

async function gather(services: Services, now: number): Promise<readonly Attention[]> {
  const { database } = services;
  const { plan } = services.plan.current();
  const titleOf = (tier: string): string => plan.tiers.find(({ id }) => id === tier)?.title ?? tier;
  const [hours, aside, { views: caps }, series, lastHour] = await Promise.all([
    sumLedger(database, { from: now - 14 * day, to: now + hour }, ['source', 'parsed'], hour),
    countQuarantine(database),
    services.caps(now),
    metricSeries(database, plan, now),
    lastHourOfRevision(database, now),
  ]);
  const { followed, groups } = healthAnswer(services.health, services.directory, now);
  const silent = followed.flatMap(({ source, emitter, health: { state, reason, since } }) =>
    emitter === '' && state === 'silent' ? [{ source, reason, since: since ?? now }] : [],
  );
  const surging = await goingSurges(database, hours, now);
  const isSurging = new Set(surging.map(({ source }) => source));
  return [
    ...attentionFromHealth(silent, groups),
    ...attentionFromSurges(surging),
    ...attentionFromQuarantine(aside),
    ...(lastHour ? attentionFromRevision(lastHour.number, lastHour.point) : []),
    ...attentionFromCaps(caps, titleOf, now),
    ...attentionFromMetrics(
      (plan.metrics ?? []).flatMap((metric) => {
        const grown = series.get(metric.id)?.grown;
        return grown ? [{ id: metric.id, name: metric.name, limit: limitOf(metric), grown }] : [];
      }),
    ),
    ...(await withMinutes(
      attentionFromLedger(hours, now).filter(({ kind, source }) => kind !== 'volume-jump' || !isSurging.has(source)),
      services.jumpMinutes,
    )),
  ];
}

/** Adds the minute to volume jumps, for which the ledger only has the hour. */
async function withMinutes(items: readonly Attention[], minutes: JumpMinutes): Promise<readonly Attention[]> {
  return await Promise.all(
    items.map(async (item) =>
      item.kind === 'volume-jump' ? { ...item, since: await minutes.of(item.source, item.since) } : item,
    ),
  );
}

/** The surges of the last day that go on, by sums of the ledger by source and hour. */
async function goingSurges(database: Database, hours: readonly LedgerSum[], now: number) {
  const surges = (await listDrifts(database, now - day)).filter(({ kind }) => kind === 'volume-surged');
  if (surges.length === 0) return [];
  const minutes = bySource(await sumLedger(database, { from: now - 10 * minute, to: now }, ['source'], minute));
  const latest = new Map(surges.toReversed().map((surge) => [surge.source, surge]));
  return [...latest.values()].flatMap(({ source, since, text }) => {
    const usual = usualRate(wholeHours(hours, source), since);
    const times = usual && timesUsual(usual, minutes.get(source) ?? [], now);
    return times === undefined ? [] : [{ source, since, text, times }];
  });
}

/** The sums of a source by the hour, parsed or not. */
function wholeHours(hours: readonly LedgerSum[], source: string) {
  const sums = new Map<number, number>();
  for (const sum of hours) if (sum.source === source) sums.set(sum.start, (sums.get(sum.start) ?? 0) + sum.bytes);
  return [...sums].map(([start, bytes]) => ({ start, bytes }));
}
