import type { ShapeVolume } from '../routing/ledger.ts';
import { addedUp, countShapes } from '../routing/shape-counts.ts';
import type { NewShape } from '../shapes/shaper.ts';
import type { Consumer } from './consumer.ts';

/** What a group tells of kinds of lines: how much came of each, and those that nobody has decided about. */
export interface ShapeDeltas {
  readonly volumes: readonly ShapeVolume[];
  readonly fresh: readonly NewShape[];
}

/** Kinds of lines: the volume of each, whatever became of it. */
export const shapes: Consumer<ShapeDeltas> = {
  begin: (_plan, { now, newShapes }) => {
    const volumes: ShapeVolume[] = [];
    return {
      add: ({ routed }) => {
        for (const volume of countShapes(routed, now)) volumes.push(volume);
      },
      effect: () => (volumes.length > 0 ? { volumes: addedUp(volumes), fresh: newShapes() } : undefined),
    };
  },
};
