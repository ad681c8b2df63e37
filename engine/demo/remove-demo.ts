import { setTimeout as pause } from 'node:timers/promises';
import { checkPlan } from '#core/plan/check.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { merge } from '#core/plan/merge.ts';
import { readyRankings } from '#core/plan/parts/rankings/ranking.ts';
import { countChange } from '#store/cluster/counters.ts';
import { revokeLease } from '#store/cluster/leases.ts';
import type { Database } from '#store/database.ts';
import { type DemoRecord, forgetDemo } from '#store/demo.ts';
import { storedTiers } from '#store/events/segments.ts';
import { forgetStored } from '#store/forget-stored.ts';
import { isCountedUpTo, lastDeltas } from '#store/metrics/delta-backlog.ts';
import { forgetMetrics } from '#store/metrics/metrics.ts';
import { forgetRankings } from '#store/metrics/talkers.ts';
import { removePriceBook } from '#store/plan/price-books.ts';
import { removeFleet } from '#store/sources/fleets.ts';
import { deleteSource, listSources, saveSource } from '#store/sources/sources.ts';
import { noteDaysSince } from '#store/volume/day-changes.ts';
import { inTurn } from '../base/in-turn.ts';
import type { Log } from '../base/log.ts';
import { leaseNames } from '../cluster/leases.ts';
import type { HealthRegistry } from '../health/registry.ts';
import type { PlanHolder } from '../plan/live-plan.ts';
import { planOfRevision } from '../plan/stored-plans.ts';
import type { SourceDirectory } from '../sources/source-directory.ts';

/** How long deliveries that are under way when sources are removed may take (milliseconds). */
const settleTime = 1_500;
/** How long metrics and rankings may take to count what is queued for them (milliseconds). */
const countingPatience = 60_000;

interface RemovalSetting {
  readonly database: Database;
  readonly directory: SourceDirectory;
  readonly health: HealthRegistry;
  readonly plan: PlanHolder;
  readonly log: Log;
}

/**
 * Removes the demo data: its sources with everything stored of them, its part of the plan with its metrics and rankings, its
 * fleets and its price book. What people have added since stays, including tiers that hold events of other sources. Safe to
 * repeat after an interruption.
 */
export async function removeDemo(setting: RemovalSetting, record: DemoRecord): Promise<void> {
  const { database, directory, health } = setting;
  const sources = (await listSources(database)).filter(({ settings }) => settings.demo);
  await inTurn(() =>
    database.db.transaction(async (tx) => {
      await countChange(tx);
      for (const source of sources) {
        // It stops reading files and objects, but stays listed: a repeated removal has to find it.
        await saveSource(tx, { ...source, kind: 'http', settings: { demo: true } });
        await revokeLease(tx, leaseNames.reading(source.name));
      }
    }),
  );
  await directory.refresh();
  await pause(settleTime);
  for (const { name } of sources) {
    health.forget(name);
    await forgetStored(database, name);
    await deleteSource(database.db, name);
  }
  await directory.refresh();
  await untilCounted(database);
  const gone = await restorePlan(setting, record);
  await inTurn(() =>
    database.db.transaction(async (tx) => {
      await countChange(tx);
      await noteDaysSince(tx, 0);
      for (const fleet of record.fleets) await removeFleet(tx, fleet);
      await removePriceBook(tx, record.pricesAt);
      await forgetMetrics(tx, gone.metrics);
      // The demo cannot be subtracted from rankings of all traffic, so these begin anew.
      await forgetRankings(tx, [...gone.rankings, ...readyRankings.map(({ id }) => id)]);
      // The engines that hold these leases cache what was deleted.
      for (const lease of [leaseNames.metrics, leaseNames.talkers]) await revokeLease(tx, lease);
      await forgetDemo(tx);
    }),
  );
}

/** Waits until metrics and rankings have counted what is queued for them: otherwise it would reappear after its removal. */
async function untilCounted({ db }: Database): Promise<void> {
  const last = await lastDeltas(db);
  for (const end = Date.now() + countingPatience; Date.now() < end && !(await isCountedUpTo(db, last)); )
    await pause(500);
}

/** The ids of metrics and rankings that went with the demo's part of the plan. */
interface Gone {
  readonly metrics: readonly string[];
  readonly rankings: readonly string[];
}

/** Takes the demo's part out of the live plan. */
async function restorePlan({ database, plan, log }: RemovalSetting, { revision }: DemoRecord): Promise<Gone> {
  const planOf = (number: number) => planOfRevision(database.db, number);
  const [came, before] = await Promise.all([planOf(revision), planOf(revision - 1)]);
  if (!came || !before) return { metrics: [], rankings: [] };
  await plan.refresh();
  const { plan: live, revision: basedOn } = plan.current();
  const stored = new Set(await storedTiers(database.db));
  const { merged } = merge(came, before, live);
  const restored = withTiers(merged, live.tiers, stored);
  const checked = checkPlan(restored);
  const answer = checked.ok
    ? await plan.publish({ plan: checked.plan, note: 'The demo data was removed', predicted: null, basedOn })
    : checked;
  if (!answer.ok) {
    const why = 'problems' in answer ? answer.problems[0]?.message : 'another revision was published meanwhile';
    log.warn(`The plan of the demo data stays, as what is left of it could not be published: ${why}`);
    return { metrics: [], rankings: [] };
  }
  return {
    metrics: idsWithout(came.metrics, restored.metrics),
    rankings: idsWithout(came.rankings, restored.rankings),
  };
}

/** The plan with live tiers that still hold events, put before its last tier. */
function withTiers(plan: PlanDocument, live: PlanDocument['tiers'], stored: ReadonlySet<string>): PlanDocument {
  const known = new Set(plan.tiers.map(({ id }) => id));
  const kept = live.filter(({ id }) => stored.has(id) && !known.has(id));
  return { ...plan, tiers: [...plan.tiers.slice(0, -1), ...kept, ...plan.tiers.slice(-1)] };
}

function idsWithout(
  all: readonly { readonly id: string }[] = [],
  left: readonly { readonly id: string }[] = [],
): readonly string[] {
  const ids = new Set(left.map(({ id }) => id));
  return all.flatMap(({ id }) => (ids.has(id) ? [] : [id]));
}
