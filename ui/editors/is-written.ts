import { selectedCompletion } from '@codemirror/autocomplete';
import type { EditorState } from '@codemirror/state';

/** Whether the selected completion is already typed in full, so that Enter has nothing to complete. */
export function isWritten(state: EditorState): boolean {
  const offered = selectedCompletion(state);
  if (!offered) return false;
  const { head } = state.selection.main;
  const text = typeof offered.apply === 'string' ? offered.apply : offered.label;
  return state.sliceDoc(Math.max(0, head - text.length), head) === text;
}
