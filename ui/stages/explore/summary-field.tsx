'use client';

import { useEffect, useState } from 'react';
import { parseSummary } from '#core/search/parse-summary.ts';

/** A line in which a summary is written; it counts when it can be read, at Enter or when it is left. */
export function SummaryField({
  value,
  onChange,
}: {
  readonly value: string;
  readonly onChange: (text: string) => void;
}) {
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  const parsed = parseSummary(text);
  return (
    <form
      className="min-w-0 flex-1"
      onSubmit={(event) => {
        event.preventDefault();
        if (parsed.ok) onChange(text);
      }}
    >
      <input
        aria-label="Summary"
        aria-invalid={!parsed.ok}
        value={text}
        onChange={(event) => setText(event.target.value)}
        onBlur={() => parsed.ok && onChange(text)}
        className="line w-full rounded-[5px] border border-hair bg-sheet px-3 py-1"
      />
      {!parsed.ok && (
        <p role="alert" className="text-[12px] text-danger">
          {parsed.problem.message} (character {parsed.problem.start + 1})
          {parsed.problem.suggestion && `; did you mean ${parsed.problem.suggestion}?`}
        </p>
      )}
    </form>
  );
}
