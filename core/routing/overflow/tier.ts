import { firstThatFit, type OverflowKind, wholly } from './overflow.ts';

/** What is over goes to a tier further down, as if that one's condition matched it. */
export const tier: OverflowKind = {
  kind: 'tier',
  title: 'to another tier',
  unlocked: wholly,
  stay: firstThatFit,
  passes: false,
};
