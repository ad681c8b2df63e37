import type { Round } from './round.ts';

/** Reads what people changed at other engines. */
export const followChanges: Round = {
  name: 'changes',
  pause: 500,
  begin:
    ({ changes }) =>
    () =>
      changes.look(),
};
