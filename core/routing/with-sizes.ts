import type { EventBatch } from '../events/batch.ts';

/**
 * The events of a segment with a size each: those whose size is not known share what of the segment's bytes is left, in whole
 * bytes, so that all of them add up to `bytes` where each stands for one event.
 */
export function withSizes(batch: EventBatch, bytes: number): EventBatch {
  const { rows, size, weight } = batch;
  let [left, sharing] = [bytes, 0];
  for (let row = 0; row < rows; row++) {
    const stands = weight[row] as number;
    if ((size[row] as number) > 0) left -= stands * (size[row] as number);
    else sharing += stands;
  }
  if (sharing === 0) return batch;
  const sizes = size.slice();
  const mean = Math.max(0, left) / sharing;
  let [shared, given] = [0, 0];
  for (let row = 0; row < rows; row++) {
    if ((sizes[row] as number) > 0) continue;
    const stands = weight[row] as number;
    shared += stands * mean;
    sizes[row] = Math.round((shared - given) / stands);
    given += stands * (sizes[row] as number);
  }
  return { ...batch, size: sizes };
}
