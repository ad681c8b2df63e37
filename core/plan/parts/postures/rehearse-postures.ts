import { hour } from '../../../events/time-units.ts';
import { keptMoreWith } from '../../../routing/kept-more-with.ts';
import type { RouteContext, RoutedBatch } from '../../../routing/route.ts';
import { addVolume, newVolume, type Volume } from '../../../routing/volume.ts';
import { isNear } from '../is-near.ts';
import type { PartRehearsal } from '../part-rehearsal.ts';
import type { CompiledPosture } from './compile-postures.ts';

/** What a plan keeps more of rehearsed events while a posture is on. Plain data. */
export interface PostureEffect {
  readonly title: string;
  readonly more: Volume;
}

/** By the id of the posture. */
export type PostureEffects = Map<string, PostureEffect>;

/** What a rehearsal computes of postures. */
export const postureRehearsal: PartRehearsal<PostureEffects, readonly RehearsedPosture[]> = {
  begin: () => new Map(),
  add: (effects, { postures }, routed, context) => addPostureEffects(effects, postures(), routed, context),
  merge: (effects, other) => {
    for (const [id, { title, more }] of other) addVolume(effectOf(effects, { id, title }).more, more);
  },
  compare: rehearsedPostures,
};

function addPostureEffects(
  effects: PostureEffects,
  postures: readonly CompiledPosture[],
  routed: RoutedBatch,
  context: RouteContext,
): void {
  for (const posture of postures) {
    const { more } = effectOf(effects, posture);
    for (const tier of posture.tiers) addVolume(more, keptMoreWith(tier, routed, context));
  }
}

function effectOf(effects: PostureEffects, { id, title }: Pick<CompiledPosture, 'id' | 'title'>): PostureEffect {
  let effect = effects.get(id);
  if (!effect) effects.set(id, (effect = { title, more: newVolume() }));
  return effect;
}

/** What each plan would keep more in an hour of a posture; null where a plan does not have it. */
export interface RehearsedPosture {
  readonly id: string;
  readonly title: string;
  readonly live: Volume | null;
  readonly draft: Volume | null;
}

function rehearsedPostures(live: PostureEffects, draft: PostureEffects, seconds: number): readonly RehearsedPosture[] {
  const hours = (seconds * 1_000) / hour;
  const anHour = (effect: PostureEffect | undefined): Volume | null =>
    effect && hours > 0 ? { events: effect.more.events / hours, bytes: effect.more.bytes / hours } : null;
  return [...new Set([...draft.keys(), ...live.keys()])].map((id) => ({
    id,
    title: (draft.get(id) ?? live.get(id))?.title ?? id,
    live: anHour(live.get(id)),
    draft: anHour(draft.get(id)),
  }));
}

/** Whether a posture that both plans have adds the same volume to both, to half a hundredth. */
export function addsAlike({ live, draft }: RehearsedPosture): boolean {
  return !live || !draft || isNear(live.bytes, draft.bytes);
}
