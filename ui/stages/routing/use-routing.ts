'use client';

import { arrayMove } from '@dnd-kit/sortable';
import { useQueryState } from 'nuqs';
import type { PlanDocument } from '#core/plan/document.ts';
import { freeId } from '#core/plan/free-id.ts';
import type { PostureDocument } from '#core/plan/parts/postures/postures-shape.ts';
import type { TierDocument } from '#core/plan/parts/tiers/tiers-shape.ts';
import type { RoutingAnswer, TierVolume } from '../../data/answers.ts';
import { useQuestion } from '../../data/client.ts';
import { useDraft, withTier } from '../../data/draft.ts';

/** The tiers of the draft in the stream, and what of them is open. */
export interface RoutingState {
  readonly plan: PlanDocument | undefined;
  readonly data: RoutingAnswer | undefined;
  readonly failed: string | undefined;
  /** The tier, or the posture, that is open. */
  readonly tier: TierDocument | undefined;
  readonly posture: PostureDocument | undefined;
  readonly openTier: (id: string, exclusion?: string) => void;
  readonly openPosture: (id: string) => void;
  readonly close: () => void;
  readonly addTier: () => void;
  readonly move: (from: number, to: number) => Promise<void>;
  readonly changeTier: (id: string, edit: (tier: TierDocument) => TierDocument) => void;
  readonly volumeOf: (tier: string) => TierVolume | undefined;
  /** What a tier took of the stream, in bytes; what went past its cap to a tier further down counts there. */
  readonly takenBy: (tier: TierDocument) => number;
  /** What is left of the stream when it comes to a tier, in bytes. */
  readonly leftBefore: (tier: TierDocument) => number;
}

/** Reads the routing of the last 24 hours, and edits the tiers of the draft. */
export function useRouting(): RoutingState {
  const { plan, change } = useDraft();
  const { data, error } = useQuestion('routing', {}, 15_000);
  const [open, setOpen] = useQueryState('tier');
  const [, setExclusion] = useQueryState('exclusion');
  const [openPosture, setPosture] = useQueryState('posture');
  const tier = plan?.tiers.find(({ id }) => id === open);
  const volumes = new Map(data?.tiers.map((volume) => [volume.id, volume]));
  const takenBy = ({ id, cap }: TierDocument): number => {
    const volume = volumes.get(id);
    const passesOn = typeof cap?.over === 'object';
    return (volume?.kept.bytes ?? 0) + (volume?.removed.bytes ?? 0) + (passesOn ? 0 : (volume?.over.bytes ?? 0));
  };
  return {
    ...{ plan, data, tier, takenBy, failed: error?.message },
    posture: tier ? undefined : plan?.postures?.find(({ id }) => id === openPosture),
    openTier: (id, exclusion) => {
      void setOpen(id);
      if (exclusion !== undefined) void setExclusion(exclusion);
    },
    openPosture: (id) => {
      void setOpen(null);
      void setPosture(id);
    },
    close: () => {
      void setOpen(null);
      void setExclusion(null);
      void setPosture(null);
    },
    addTier: () => {
      let id = '';
      const withNew = (before: PlanDocument): PlanDocument => {
        const others = before.tiers.map((other) => other.id);
        id = freeId('new-tier', others);
        const added = { id, title: 'New tier', when: 'severity >= fatal', keep: '30d' };
        return { ...before, tiers: [added, ...before.tiers] };
      };
      void change(withNew).then(() => setOpen(id));
    },
    move: (from, to) => change((before) => ({ ...before, tiers: arrayMove([...before.tiers], from, to) })),
    changeTier: (id, edit) => void change((before) => withTier(before, id, edit)),
    volumeOf: (id) => volumes.get(id),
    leftBefore: (one) => {
      const above = plan?.tiers.slice(0, plan.tiers.indexOf(one)) ?? [];
      return above.reduce((rest, other) => rest - takenBy(other), data?.arrived.bytes ?? 0);
    },
  };
}
