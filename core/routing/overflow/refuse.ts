import { firstThatFit, type OverflowKind, wholly } from './overflow.ts';

/**
 * The delivery that brings what is over is refused as a whole, with when the day ends; its sender still has it. Where a
 * sender cannot be answered, what is over passes.
 */
export const refuse: OverflowKind = {
  kind: 'refuse',
  title: 'refuse it until the day ends (429)',
  unlocked: wholly,
  stay: firstThatFit,
  passes: true,
};
