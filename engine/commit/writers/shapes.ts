import type { ShapeDeltas } from '#core/consumers/shapes.ts';
import { addNewShapes, addShapeVolume } from '#store/events/shapes.ts';
import type { EffectWriter } from './writer.ts';

/** How much came of each kind of line, and kinds that are to be decided about. */
export const shapes = (): EffectWriter<ShapeDeltas> => ({
  write: async (tx, { volumes, fresh }) => {
    await addShapeVolume(tx, volumes);
    await addNewShapes(tx, fresh);
    return undefined;
  },
});
