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
import { type Extension, Prec } from '@codemirror/state';
import { type EditorView, keymap } from '@codemirror/view';
import { useMemo, useRef } from 'react';
import type { FieldSummary } from '#core/search/field-summary.ts';
import { parseSummary, summaryWords } from '#core/summaries/parse-summary.ts';
import { aggregateFunctions } from '#core/summaries/summary.ts';
import { writeName } from '#core/summaries/write-summary.ts';
import { CodeField } from './code-field.tsx';
import { isWritten } from './is-written.ts';

/** Completes functions and keywords, and field names inside brackets and after `by`. */
function complete(context: CompletionContext, fields: readonly FieldSummary[]): CompletionResult | null {
  const word = context.matchBefore(/[\w.@-]*$/);
  if (!word || (word.from === word.to && !context.explicit)) return null;
  const before = context.state.sliceDoc(0, word.from);
  const names = fields.map(({ name }) => ({ label: name, type: 'property', apply: writeName(name) }));
  const figures = aggregateFunctions.map((name) => ({ label: `${name}()`, type: 'function', apply: callOf(name) }));
  const words = summaryWords.map((label) => ({ label, type: 'keyword' }));
  if (/\(\s*$/.test(before)) return { from: word.from, options: names };
  if (/\bby\s+(?:[^()]*,\s*)?$/i.test(before)) return { from: word.from, options: [...names, ...figures] };
  return { from: word.from, options: [...figures, ...words, ...names] };
}

/** Inserts a call and puts the cursor between its brackets. */
function callOf(name: string) {
  return (view: EditorView, _: unknown, from: number, to: number): void => {
    const isWhole = name === 'count' || name === 'rate';
    view.dispatch({
      changes: { from, to, insert: `${name}()` },
      selection: { anchor: from + name.length + (isWhole ? 2 : 1) },
    });
  };
}

const faults = linter((view) => {
  const parsed = parseSummary(view.state.doc.toString());
  if (parsed.ok) return [];
  const { length } = view.state.doc;
  const from = Math.min(parsed.problem.start, length);
  return [
    {
      from,
      to: Math.min(Math.max(parsed.problem.end, from), length),
      severity: 'error',
      message: parsed.problem.message,
    },
  ];
});

/** A summary as text, with completion from real fields. Enter runs it. */
export function SummaryEditor(props: {
  readonly value: string;
  readonly fields: readonly FieldSummary[];
  readonly onChange: (text: string) => void;
  readonly onRun: () => void;
}) {
  const known = useRef(props.fields);
  known.current = props.fields;
  const run = useRef(props.onRun);
  run.current = props.onRun;
  const extensions = useMemo<Extension>(() => {
    const runs = (view: EditorView): boolean => {
      closeCompletion(view);
      run.current();
      return true;
    };
    return [
      // Before the completion keymap, which would handle Enter first.
      Prec.highest(keymap.of([{ key: 'Enter', run: (view) => isWritten(view.state) && runs(view) }])),
      autocompletion({ override: [(context) => complete(context, known.current)], icons: false }),
      keymap.of(completionKeymap),
      keymap.of([{ key: 'Enter', run: runs }]),
      Prec.high(keymap.of([{ key: 'Mod-Enter', run: runs }])),
      faults,
      history(),
      keymap.of([...historyKeymap, ...defaultKeymap]),
    ];
  }, []);
  return (
    <div className="rounded-[5px] border border-hair bg-sheet">
      <CodeField
        value={props.value}
        label="Summary"
        extensions={extensions}
        onChange={props.onChange}
        onLeave={() => run.current()}
      />
    </div>
  );
}
