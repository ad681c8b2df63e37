'use client';

import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { linter } from '@codemirror/lint';
import { type Extension, RangeSetBuilder } from '@codemirror/state';
import { Decoration, type DecorationSet, type EditorView, keymap, ViewPlugin, type ViewUpdate } from '@codemirror/view';
import { parseTemplate } from '#core/templates/parse.ts';
import { CodeField } from './code-field.tsx';

/** How many tints holes take turns in. */
const tints = 6;

/** The tint of the hole with that number in its template, for the template and for the lines it cuts. */
export function holeTint(index: number): string {
  return `var(--hole-${(index % tints) + 1})`;
}

function marks(view: EditorView): DecorationSet {
  const builder = new RangeSetBuilder<Decoration>();
  const parsed = parseTemplate(view.state.doc.toString());
  if (!parsed.ok) return builder.finish();
  parsed.pieces
    .filter((piece) => piece.kind === 'hole')
    .forEach((hole, index) => {
      builder.add(
        hole.start,
        hole.end,
        Decoration.mark({ attributes: { style: `background:${holeTint(index)};border-radius:3px` } }),
      );
    });
  return builder.finish();
}

const tinting = ViewPlugin.fromClass(
  class {
    decorations: DecorationSet;
    constructor(view: EditorView) {
      this.decorations = marks(view);
    }
    update(update: ViewUpdate): void {
      if (update.docChanged) this.decorations = marks(update.view);
    }
  },
  { decorations: (plugin) => plugin.decorations },
);

const faults = linter((view) => {
  const text = view.state.doc.toString();
  const parsed = parseTemplate(text);
  // An empty template is not marked as wrong: nothing was typed yet.
  if (parsed.ok || text === '') return [];
  const { start, end, message, suggestion } = parsed.problem;
  const hint = suggestion ? `; did you mean ${suggestion}?` : '';
  return [{ from: start, to: Math.min(end, view.state.doc.length), severity: 'error', message: message + hint }];
});

const extensions: Extension = [history(), keymap.of([...historyKeymap, ...defaultKeymap]), tinting, faults];

/** A line template with its holes tinted and its faults marked. */
export function TemplateEditor(props: {
  readonly value: string;
  readonly label: string;
  readonly onChange: (value: string) => void;
}) {
  return (
    <div className="rounded-[5px] border border-hair bg-sheet">
      <CodeField value={props.value} label={props.label} extensions={extensions} onChange={props.onChange} />
    </div>
  );
}
