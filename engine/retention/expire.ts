import { parseDuration } from '#core/events/units.ts';
import { type PlanDocument, passingTier, rejectsTier } from '#core/plan/document.ts';
import type { Database } from '#store/database.ts';
import { forgetDeliveries } from '#store/deliveries.ts';
import { cutDrifts } from '#store/drifts.ts';
import { cutEmitterVolume } from '#store/emitters.ts';
import { rollUpLedger } from '#store/ledger.ts';
import { removeExpired, removeReplaced, tierContents } from '#store/segments.ts';
import { cutTape } from '#store/tape.ts';
import { tapeLength } from '../workers/process.ts';

/** How long replaced segments stay for searches that began before, in milliseconds. */
const replacedStay = 120_000;
/** How long delivery keys are remembered, in milliseconds. */
const keysStay = 86_400_000;
/** How long changes in what sources send, and the volume of emitters by the hour, are remembered (milliseconds). */
const driftsStay = 30 * 86_400_000;
const emitterVolumeStay = 35 * 86_400_000;

/** Removes what is past its time: expired and replaced segments, old keys, old tape; puts old ledger rows together. */
export async function expireRound(database: Database, plan: PlanDocument, now: number): Promise<void> {
  while ((await removeReplaced(database, now - replacedStay)) > 0);
  for (const { tier } of await tierContents(database)) {
    const keep = keepOf(plan, tier);
    if (keep !== undefined) while ((await removeExpired(database, tier, now - keep)) > 0);
  }
  await forgetDeliveries(database, now - keysStay);
  await cutTape(database, now - tapeLength);
  await cutDrifts(database, now - driftsStay);
  await cutEmitterVolume(database, now - emitterVolumeStay);
  await rollUpLedger(database, now);
}

/** How long a tier keeps events; undefined for one that the plan no longer has, whose events stay until it is settled. */
function keepOf(plan: PlanDocument, tier: string): number | undefined {
  if (tier === passingTier.id) return passingTier.keep;
  if (tier === rejectsTier.id) return rejectsTier.keep;
  return parseDuration(plan.tiers.find((candidate) => candidate.id === tier)?.keep ?? '');
}
