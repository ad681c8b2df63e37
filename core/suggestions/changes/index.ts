import type { ChangeSuggestion } from '../../answers/suggestions.ts';
import { cap } from './cap.ts';
import type { ChangeKind, ChangeSetting } from './change-kind.ts';
import { removeFields } from './remove-fields.ts';
import { retention } from './retention.ts';

/** All kinds of changes that are suggested. */
export const changeKinds: readonly ChangeKind[] = [retention, cap, removeFields];

/** Ready changes of a plan that save something, what saves most first. */
export function suggestedChanges(setting: ChangeSetting): readonly ChangeSuggestion[] {
  return changeKinds
    .flatMap(({ suggest }) => suggest(setting))
    .filter(({ coins }) => coins > 0)
    .sort((a, b) => b.coins - a.coins);
}
