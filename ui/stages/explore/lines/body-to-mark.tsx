'use client';

import { useState } from 'react';
import { learnTemplate, type Mark } from '#core/templates/learn.ts';
import { MarkBar } from '../../../editors/mark-bar.tsx';
import { selectedRange } from '../../../editors/selected-range.ts';

/** One line alone is marked: more has to be loosened before others fit. */
const patience = 8;

/**
 * The body of an event, of which text can be selected to make it a field of the search: a template is learnt that takes
 * it out of this line and of others like it.
 */
export function BodyToMark(props: {
  readonly body: string;
  /** Other bodies, against which the template is learnt. */
  readonly others: readonly string[];
  readonly onTemplate: (template: string) => void;
}) {
  const { body, others } = props;
  const [selected, setSelected] = useState<{ readonly start: number; readonly end: number }>();
  const [marks, setMarks] = useState<readonly Mark[]>([]);
  const [fault, setFault] = useState('');
  const select = (element: HTMLElement): void => setSelected(selectedRange(element));
  const mark = (name: string, type: string): void => {
    if (!selected) return;
    const added = { ...selected, name, ...(type !== 'guess' && { type }) };
    const next = [...marks, added].sort((a, b) => a.start - b.start);
    const learnt = learnTemplate([{ line: body, marks: next }], others, { patience });
    setFault(learnt.ok ? '' : learnt.message);
    setSelected(undefined);
    if (!learnt.ok) return;
    setMarks(next);
    props.onTemplate(learnt.template);
  };
  return (
    <div className="mb-2">
      <p className="text-[12.5px] text-second">Select a piece of its body to make it a field of this search:</p>
      <p
        data-body=""
        className="line cursor-text break-all whitespace-pre-wrap select-text"
        onMouseUp={(event) => select(event.currentTarget)}
        onKeyUp={(event) => select(event.currentTarget)}
      >
        {body}
      </p>
      {selected && (
        <MarkBar
          value={body.slice(selected.start, selected.end)}
          knownField={() => undefined}
          onMark={mark}
          onLeave={() => setSelected(undefined)}
        />
      )}
      {fault !== '' && (
        <p role="alert" className="text-[12.5px] text-danger">
          {fault}
        </p>
      )}
    </div>
  );
}
