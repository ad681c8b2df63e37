import { firstThatFit, type OverflowKind, wholly } from './overflow.ts';

/** What is over passes: it is kept for an hour, and gone then. */
export const passing: OverflowKind = {
  kind: 'passing',
  title: 'let it pass: searchable for an hour',
  unlocked: wholly,
  stay: firstThatFit,
  passes: true,
};
