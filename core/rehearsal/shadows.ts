import type { ConditionContext } from '../conditions/evaluate.ts';
import type { EventBatch } from '../events/batch.ts';
import type { CompiledPlan } from '../plan/compile.ts';
import { seededRandom } from '../routing/route.ts';
import { addVolume, newVolume, type Volume } from '../routing/volume.ts';

/** What the condition of one tier matches of everything, and how much of it tiers above take. Plain data. */
export interface Shadow {
  readonly matched: Volume;
  /** By the tier above that takes it. */
  readonly above: Map<string, Volume>;
}

/** By tier. */
export type Shadows = Map<string, Shadow>;

/** Adds what the tiers' conditions match of a batch of raw events; weights count, so amounts are those of what arrived. */
export function addShadows(shadows: Shadows, plan: CompiledPlan, batch: EventBatch, context: ConditionContext): void {
  const { arrived, fates, fateOf } = plan.run(batch, { ...context, random: seededRandom(1) });
  const places = new Map(plan.tiers.map(({ id }, place) => [id, place]));
  /** By fate, the place of the tier that has the event; −1 where none has it. */
  const placeOfFate = Int32Array.from(fates, ({ tier }) => places.get(tier) ?? -1);
  plan.tiers.forEach(({ id, when }, place) => {
    const shadow = shadowOf(shadows, id);
    const matched = when.test(arrived, context);
    for (let row = 0; row < arrived.rows; row++) {
      if (matched[row] === 0) continue;
      const events = arrived.weight[row] as number;
      const volume = { events, bytes: events * (arrived.size[row] as number) };
      addVolume(shadow.matched, volume);
      const taker = placeOfFate[fateOf[row] as number] as number;
      if (taker < 0 || taker >= place) continue;
      addVolume(volumeOf(shadow.above, plan.tiers[taker]?.id ?? ''), volume);
    }
  });
}

/** Adds what was found in another part of the tape. */
export function mergeShadows(into: Shadows, other: Shadows): void {
  for (const [tier, { matched, above }] of other) {
    const shadow = shadowOf(into, tier);
    addVolume(shadow.matched, matched);
    for (const [id, volume] of above) addVolume(volumeOf(shadow.above, id), volume);
  }
}

function shadowOf(shadows: Shadows, tier: string): Shadow {
  let shadow = shadows.get(tier);
  if (!shadow) shadows.set(tier, (shadow = { matched: newVolume(), above: new Map() }));
  return shadow;
}

function volumeOf(volumes: Map<string, Volume>, id: string): Volume {
  let volume = volumes.get(id);
  if (!volume) volumes.set(id, (volume = newVolume()));
  return volume;
}
