'use client';

import { useEffect, useState } from 'react';
import type { FieldSummary } from '#core/search/field-summary.ts';
import { parseSummary } from '#core/summaries/parse-summary.ts';
import { SummaryEditor } from '../../../editors/summary-editor.tsx';

/** A line in which a summary is written; it counts when it can be read, at Enter or when it is left. */
export function SummaryField({
  value,
  fields,
  onChange,
}: {
  readonly value: string;
  readonly fields: readonly FieldSummary[];
  readonly onChange: (text: string) => void;
}) {
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  const parsed = parseSummary(text);
  return (
    <div className="min-w-0 flex-1">
      <SummaryEditor
        value={text}
        fields={fields}
        onChange={setText}
        onRun={() => parsed.ok && text !== value && onChange(text)}
      />
      {!parsed.ok && (
        <p role="alert" className="text-[12px] text-danger">
          {parsed.problem.message} (character {parsed.problem.start + 1})
          {parsed.problem.suggestion && `; did you mean ${parsed.problem.suggestion}?`}
        </p>
      )}
    </div>
  );
}
