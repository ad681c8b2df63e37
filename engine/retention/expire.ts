import { tapeLength } from '#core/consumers/tape.ts';
import { day } from '#core/events/time-units.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { keepOf } from '#core/plan/retention.ts';
import { expiredStretches } from '#core/routing/retention.ts';
import type { Database } from '#store/database.ts';
import { forgetDeliveries } from '#store/events/deliveries.ts';
import { cutQuarantine } from '#store/events/quarantine.ts';
import { removeExpired, removeReplaced, storedTiers } from '#store/events/segments.ts';
import { rollUpShapes } from '#store/events/shapes.ts';
import { cutTape } from '#store/events/tape.ts';
import { cutDiscardedDrafts } from '#store/plan/plans.ts';
import { cutTierGraces, listTierGraces } from '#store/plan/tier-graces.ts';
import { cutDrifts } from '#store/sources/drifts.ts';
import { cutEmitterVolume } from '#store/sources/emitters.ts';
import { cutPositions } from '#store/sources/positions.ts';
import { rollUpLedger } from '#store/volume/ledger.ts';
import { sumDays } from '#store/volume/volume-days.ts';

/** How long replaced segments stay for searches that began before, in milliseconds. */
const replacedStay = 120_000;
/** How long delivery keys are remembered, in milliseconds. */
const keysStay = day;
/** How long changes in what sources send, and the volume of emitters by the hour, are remembered (milliseconds). */
const driftsStay = 30 * day;
const emitterVolumeStay = 35 * day;
/** How long deliveries stay that were set aside, and how far files were read that have not changed since (milliseconds). */
const quarantineStay = 30 * day;
const positionsStay = 400 * day;

/** Removes what is past its time: expired and replaced segments, old keys, old tape; puts old ledger rows together. */
export async function expireRound(database: Database, plan: PlanDocument, now: number): Promise<void> {
  const tiers = plan.tiers.map(({ id }) => id);
  const steps: readonly (() => Promise<void>)[] = [
    async () => {
      while ((await removeReplaced(database, now - replacedStay)) > 0);
    },
    () => removeOld(database, plan, now),
    () => cutTierGraces(database, tiers, now),
    () => forgetDeliveries(database, now - keysStay),
    () => cutTape(database, now - tapeLength),
    () => cutDrifts(database, now - driftsStay),
    () => cutEmitterVolume(database, now - emitterVolumeStay),
    () => cutQuarantine(database, now - quarantineStay),
    () => cutPositions(database, now - positionsStay),
    () => cutDiscardedDrafts(database, now),
    () => rollUpLedger(database, now),
    () => rollUpShapes(database, now),
    () => sumDays(database, now),
  ];
  // One that fails holds up none of the others.
  const faults: unknown[] = [];
  for (const step of steps) await step().catch((error: unknown) => faults.push(error));
  if (faults.length > 0) throw faults[0];
}

/** Removes what tiers have kept for as long as they keep it, but for what has grace. */
async function removeOld(database: Database, plan: PlanDocument, now: number): Promise<void> {
  const graces = await listTierGraces(database);
  for (const tier of await storedTiers(database.db)) {
    const tierGraces = graces.filter((grace) => grace.tier === tier);
    for (const stretch of expiredStretches(keepOf(plan, tier), tierGraces, now))
      while ((await removeExpired(database, tier, stretch)) > 0);
  }
}
