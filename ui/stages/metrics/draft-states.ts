import type { DraftState } from '#core/plan/beside-live.ts';

/** How a thing of the draft stands to the live plan, in words; empty where it is alike. */
export const draftStates: Readonly<Record<DraftState, string>> = {
  live: '',
  new: 'in the draft',
  changed: 'changed in the draft',
  removed: 'removed in the draft',
};
