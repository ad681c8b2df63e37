'use client';

import { useState } from 'react';
import { learnTemplate, type Mark, type MarkedLine } from '#core/templates/learn.ts';
import type { SampleAnswer } from './sample.ts';

/** Other lines that a template is learnt against. */
const mostLearntFrom = 400;

/** Text that is selected in a line. */
export interface SelectedText {
  readonly place: number;
  readonly start: number;
  readonly end: number;
}

/** The pieces of lines that were marked as fields, by the places of the lines. */
export interface LineMarks {
  readonly marks: ReadonlyMap<number, readonly Mark[]>;
  readonly selected: SelectedText | undefined;
  readonly select: (selected: SelectedText | undefined) => void;
  /** Marks what is selected as a field; a template is learnt from all marks. */
  readonly mark: (name: string, type: string) => void;
  readonly startOver: () => void;
}

/** What marking leads to. */
export interface MarkingEvents {
  /** Takes a template that was learnt; `again` when it continues the last one. */
  readonly onLearnt: (template: string, again: boolean) => void;
  /** Takes the places of all lines that are marked: the template that is learnt needs them in the sample. */
  readonly onMarked: (places: readonly number[]) => void;
}

/** Marks pieces of sample lines. */
export function useLineMarks(sample: SampleAnswer, { onLearnt, onMarked }: MarkingEvents): LineMarks {
  const [selected, select] = useState<SelectedText | undefined>();
  const [marks, setMarks] = useState<LineMarks['marks']>(new Map());
  const mark = (name: string, type: string): void => {
    if (!selected) return;
    const { place, start, end } = selected;
    const before = marks.get(place) ?? [];
    const added = [...before, { start, end, name, ...(type !== 'guess' && { type }) }];
    const next = new Map(marks).set(
      place,
      added.sort((a, b) => a.start - b.start),
    );
    setMarks(next);
    onMarked([...next.keys()]);
    select(undefined);
    const template = templateOf(sample, next);
    if (template !== undefined) onLearnt(template, before.length > 0 || marks.size > 0);
  };
  const startOver = (): void => {
    setMarks(new Map());
    onMarked([]);
  };
  return { marks, selected, select, mark, startOver };
}

/** The template that takes the marked pieces; undefined where there is none. */
export function templateOf({ lines }: Pick<SampleAnswer, 'lines'>, marks: LineMarks['marks']): string | undefined {
  const examples = [...marks].flatMap(([place, pieces]): MarkedLine[] => {
    const line = lines.find((candidate) => candidate.place === place);
    return line ? [{ line: line.text, marks: pieces }] : [];
  });
  // A line on which fewer pieces are marked so far does not take part until it has them all.
  const most = Math.max(...examples.map((example) => example.marks.length));
  const whole = examples.filter((example) => example.marks.length === most);
  const others = lines.slice(0, mostLearntFrom).map((line) => line.text);
  const learnt = learnTemplate(whole, others);
  return learnt.ok ? learnt.template : undefined;
}
