import type { EventBatch } from '../core/events/batch.ts';
import { KnownShapes } from '../core/shapes/known-shapes.ts';
import { ShapeFamilies } from '../core/shapes/shape-families.ts';
import { Shaper } from '../core/shapes/shaper.ts';

/** A shaper that has learnt the lines of some batches. */
export function learntShaper(batches: readonly EventBatch[]): Shaper {
  const known = new KnownShapes();
  const families = new ShapeFamilies();
  const shaper = new Shaper(known);
  for (let round = 0; round < 3; round++) {
    shaper.begin();
    for (const batch of batches) shaper.shaped(batch);
    for (const fresh of shaper.takeNew()) {
      const { put, merged } = families.learn(fresh);
      known.learn([...put, ...merged]);
    }
  }
  shaper.begin();
  return shaper;
}
