'use client';

import {
  autocompletion,
  type CompletionContext,
  type CompletionResult,
  closeCompletion,
  completionKeymap,
} from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { linter } from '@codemirror/lint';
import { type Extension, Prec, RangeSetBuilder } from '@codemirror/state';
import {
  Decoration,
  type DecorationSet,
  EditorView,
  keymap,
  placeholder,
  ViewPlugin,
  type ViewUpdate,
} from '@codemirror/view';
import { useMemo, useRef } from 'react';
import { builtInFields } from '#core/conditions/ast.ts';
import { parseCondition } from '#core/conditions/parse.ts';
import { expandSaved } from '#core/conditions/saved.ts';
import { severityWords } from '#core/events/severity.ts';
import type { FieldSummary } from '#core/search/field-summary.ts';
import { useNames } from '../data/names.ts';
import { CodeField } from './code-field.tsx';
import { ConditionDoubts } from './condition-doubts.tsx';
import { isWritten } from './is-written.ts';

const colours = EditorView.theme({
  '.tok-field': { color: 'var(--d6)' },
  '.tok-operator, .tok-bracket': { color: 'var(--second)' },
  '.tok-keyword': { color: 'var(--mark)' },
  '.tok-value, .tok-pattern': { color: 'var(--caution)' },
  '.tok-comment': { color: 'var(--second)', fontStyle: 'italic' },
});

function marks(view: EditorView): DecorationSet {
  const builder = new RangeSetBuilder<Decoration>();
  const tokens = [...parseCondition(view.state.doc.toString()).tokens].sort(
    (a, b) => a.start - b.start || a.end - b.end,
  );
  let last = 0;
  for (const { kind, start, end } of tokens) {
    if (start < last || end <= start) continue;
    builder.add(start, end, Decoration.mark({ class: `tok-${kind}` }));
    last = end;
  }
  return builder.finish();
}

const colouring = ViewPlugin.fromClass(
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
  const { problem } = parseCondition(view.state.doc.toString());
  if (!problem) return [];
  const { length } = view.state.doc;
  const { suggestion } = problem;
  const from = Math.min(problem.start, length);
  const to = Math.min(Math.max(problem.end, from), length);
  const actions = suggestion
    ? [
        {
          name: suggestion,
          apply: (target: EditorView, start: number, end: number) =>
            target.dispatch({ changes: { from: start, to: end, insert: suggestion } }),
        },
      ]
    : [];
  return [{ from, to, severity: 'error', message: problem.message, actions }];
});

interface Known {
  readonly fields: readonly FieldSummary[];
  /** The names of saved searches. */
  readonly saved: readonly string[];
}

function complete(context: CompletionContext, { fields, saved }: Known): CompletionResult | null {
  const before = context.state.sliceDoc(0, context.pos);
  const value = /([\w.@-]+|`[^`]+`)\s*(?:=|!=|<=|>=|<|>|in\s*\((?:[^)]*,)?)\s*([^\s(),"]*)$/.exec(before);
  if (value) {
    const name = (value[1] ?? '').replaceAll('`', '');
    const known =
      name === 'severity'
        ? severityWords.map((word) => ({ value: word as string, count: 0 }))
        : fields.find((field) => field.name === name)?.top;
    if (!known) return null;
    return {
      from: context.pos - (value[2] ?? '').length,
      options: known.map(({ value: text, count }) => ({
        label: text,
        apply: /[\s(),"*]/.test(text) || text === '' ? JSON.stringify(text) : text,
        ...(count > 0 && { detail: Math.round(count).toLocaleString('en-US') }),
      })),
    };
  }
  const name = context.matchBefore(/saved:[\w.-]*$/i);
  if (name) return { from: name.from, options: saved.map((one) => ({ label: `saved:${one}`, type: 'keyword' })) };
  const word = context.matchBefore(/[\w.@-]*$/);
  if (!word || (word.from === word.to && !context.explicit)) return null;
  const names = new Set([...builtInFields, ...fields.map((field) => field.name)]);
  return {
    from: word.from,
    options: [
      ...[...names].map((name) => ({
        label: name,
        type: 'property',
        apply: /^[\w.@-]+$/.test(name) ? name : `\`${name}\``,
      })),
      ...(saved.length > 0 ? [{ label: 'saved:', type: 'keyword' }] : []),
      ...['and', 'or', 'not', 'has', 'in', 'matches'].map((label) => ({ label, type: 'keyword' })),
    ],
  };
}

/** A name of a saved search that has been written to its end. */
const finished = /saved:[\w.-]+(?=[\s)])/i;

/**
 * A condition with colours, completion from real fields and values, and marks on what is wrong. Enter runs it. Outside of a
 * search, the name of a saved search gives way to its condition, and what can hardly be meant is pointed out below.
 */
export function ConditionEditor(props: {
  readonly value: string;
  /** Whether it is what is searched for: names of saved searches stay, and the answer tells the doubts. */
  readonly isSearch?: boolean;
  /** Whether it is asked within pipelines, where not all fields are known. */
  readonly isRaw?: boolean;
  readonly fields: readonly FieldSummary[];
  readonly onChange: (value: string) => void;
  readonly onRun?: () => void;
  readonly label?: string;
  readonly autoFocus?: boolean;
}) {
  const { value, isSearch = false, isRaw = false, onChange } = props;
  const { saved } = useNames();
  const known = useRef({ fields: props.fields, saved: [...saved.keys()] });
  known.current = { fields: props.fields, saved: [...saved.keys()] };
  const change = (text: string, isDone: boolean): void => {
    const expanded = !isSearch && (isDone || finished.test(text)) ? expandSaved(text, saved) : undefined;
    const next = expanded?.ok ? expanded.text : text;
    if (!isDone || next !== text) onChange(next);
  };
  const run = useRef(props.onRun);
  run.current = props.onRun;
  const extensions = useMemo<Extension>(() => {
    const runs = (view: EditorView): boolean => {
      closeCompletion(view);
      run.current?.();
      return run.current !== undefined;
    };
    return [
      // Before the keys of completion, which would take it.
      Prec.highest(keymap.of([{ key: 'Enter', run: (view) => isWritten(view.state) && runs(view) }])),
      autocompletion({ override: [(context) => complete(context, known.current)], icons: false }),
      keymap.of(completionKeymap),
      Prec.high(
        keymap.of([
          {
            key: 'Mod-Enter',
            run: (view) => {
              runs(view);
              return true;
            },
          },
        ]),
      ),
      keymap.of([{ key: 'Enter', run: runs }]),
      history(),
      keymap.of([...historyKeymap, ...defaultKeymap]),
      colouring,
      colours,
      faults,
      placeholder('every event · try: severity >= error, or a word from the line'),
    ];
  }, []);
  return (
    <>
      <div data-condition="" className="rounded-[5px] border border-hair bg-sheet shadow-[inset_2px_0_0_var(--mark)]">
        <CodeField
          value={value}
          label={props.label ?? 'Condition'}
          extensions={extensions}
          onChange={(text) => change(text, false)}
          onLeave={(text) => change(text, true)}
          {...(props.autoFocus !== undefined && { autoFocus: props.autoFocus })}
        />
      </div>
      {!isSearch && <ConditionDoubts text={value} isRaw={isRaw} onTake={onChange} />}
    </>
  );
}
