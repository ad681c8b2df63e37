'use client';

import { EditorState, type Extension } from '@codemirror/state';
import { EditorView } from '@codemirror/view';
import { useEffect, useRef } from 'react';

const look = EditorView.theme({
  '&': { fontSize: '13.5px', backgroundColor: 'transparent', color: 'var(--ink)' },
  '&.cm-focused': { outline: 'none' },
  '.cm-content': {
    fontFamily: '"Atkinson Hyperlegible Mono Variable", monospace',
    padding: '8px 0',
    caretColor: 'var(--ink)',
  },
  '.cm-line': { padding: '0 12px' },
  '.cm-placeholder': { color: 'var(--second)' },
  '.cm-cursor': { borderLeftColor: 'var(--ink)' },
  '.cm-tooltip': {
    backgroundColor: 'var(--sheet)',
    color: 'var(--ink)',
    border: '1px solid var(--hair)',
    borderRadius: '5px',
  },
  '.cm-tooltip-autocomplete ul li[aria-selected]': { backgroundColor: 'var(--land)', color: 'var(--ink)' },
  '.cm-completionDetail': { color: 'var(--second)', fontStyle: 'normal' },
  '.cm-selectionBackground, &.cm-focused .cm-selectionBackground': { backgroundColor: 'var(--mark-wash) !important' },
});

/** A field for text that has a grammar. `extensions` must not change between renders. */
export function CodeField(props: {
  readonly value: string;
  readonly label: string;
  readonly extensions: Extension;
  readonly onChange: (value: string) => void;
  /** Called when the field is left. */
  readonly onLeave?: (value: string) => void;
  readonly autoFocus?: boolean;
}) {
  const holder = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView>(undefined);
  const changed = useRef(props.onChange);
  changed.current = props.onChange;
  const left = useRef(props.onLeave);
  left.current = props.onLeave;
  const first = useRef(props);
  useEffect(() => {
    if (!holder.current) return;
    const { value, label, extensions, autoFocus } = first.current;
    const made = new EditorView({
      parent: holder.current,
      state: EditorState.create({
        doc: value,
        extensions: [
          extensions,
          look,
          EditorView.lineWrapping,
          EditorView.contentAttributes.of({ 'aria-label': label }),
          EditorView.domEventHandlers({ blur: (_event, of) => left.current?.(of.state.doc.toString()) }),
          EditorView.updateListener.of((update) => {
            if (update.docChanged) changed.current(update.state.doc.toString());
          }),
        ],
      }),
    });
    view.current = made;
    if (autoFocus) made.focus();
    return () => made.destroy();
  }, []);
  useEffect(() => {
    const current = view.current;
    if (!current || current.state.doc.toString() === props.value) return;
    current.dispatch({ changes: { from: 0, to: current.state.doc.length, insert: props.value } });
  }, [props.value]);
  return <div ref={holder} />;
}
