import type { CapDocument } from './tiers-shape.ts';

/** A cap while a posture lifts it. A plan cannot say so: it has no place in the shape. */
export type LiftedCap = CapDocument & { readonly lifted: true };

/** The cap, lifted: its tier keeps everything, and what it would have left out is counted all the same. */
export function liftedCap(cap: CapDocument): LiftedCap {
  return { ...cap, lifted: true };
}

/** Whether a posture has lifted the cap. */
export function isLifted(cap: CapDocument): boolean {
  return 'lifted' in cap;
}
