import { selectedCompletion } from '@codemirror/autocomplete';
import type { EditorState } from '@codemirror/state';

/** Whether what is offered is written in full already: Enter then has nothing to complete. */
export function isWritten(state: EditorState): boolean {
  const offered = selectedCompletion(state);
  if (!offered) return false;
  const { head } = state.selection.main;
  const text = typeof offered.apply === 'string' ? offered.apply : offered.label;
  return state.sliceDoc(Math.max(0, head - text.length), head) === text;
}
