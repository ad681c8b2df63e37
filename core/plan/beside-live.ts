import { isSame } from './merge.ts';

/** How a thing of a draft stands to the live plan: there alike, new, changed, or taken out. */
export type DraftState = 'live' | 'new' | 'changed' | 'removed';

/** Things of a plan beside those that are live, told apart by their ids; those that it takes out last. */
export function besideLive<Thing extends { readonly id: string }>(
  drafted: readonly Thing[],
  live: readonly Thing[],
): readonly { readonly thing: Thing; readonly state: DraftState }[] {
  return [
    ...drafted.map((thing) => {
      const before = live.find(({ id }) => id === thing.id);
      const state: DraftState = !before ? 'new' : isSame(before, thing) ? 'live' : 'changed';
      return { thing, state };
    }),
    ...live
      .filter(({ id }) => !drafted.some((thing) => thing.id === id))
      .map((thing) => ({ thing, state: 'removed' as const })),
  ];
}
