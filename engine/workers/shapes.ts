import type { EventBatch } from '#core/events/batch.ts';
import { currentShapes } from '#core/shapes/current-shapes.ts';
import { KnownShapes } from '#core/shapes/known-shapes.ts';
import { Shaper } from '#core/shapes/shaper.ts';
import { shapesSince } from '#store/events/shapes.ts';
import { workerDatabase } from './worker-database.ts';

const known = new KnownShapes();
let version = 0;
let reading: Promise<void> = Promise.resolve();

/** What gives events their shapes in this thread. */
export const shaper = new Shaper(known);

/** The id under which a shape goes now. */
export const currentShape = known.current;

/**
 * Learns what was decided about shapes up to a version. Where the store does not answer this thread goes on with what it
 * knows: shapes that it does not know are reported as new ones, and decided about later.
 */
export async function refreshShapes(wanted: number): Promise<void> {
  reading = reading.then(async () => {
    if (wanted <= version) return;
    const decided = await shapesSince(workerDatabase().db, version).catch(() => []);
    known.learn(decided);
    version = decided.at(-1)?.version ?? version;
  });
  await reading;
}

/** A batch whose events have their shapes: those that it came with, or else those of their lines. */
export function withShapes(batch: EventBatch): EventBatch {
  if (batch.shape) return batch;
  shaper.begin();
  return shaper.shaped(batch);
}

/** A stored batch with its shapes under the ids that they have now. */
export function withCurrentShapes(batch: EventBatch): EventBatch {
  return batch.shape ? { ...batch, shape: currentShapes(batch.shape, known.current) } : batch;
}
