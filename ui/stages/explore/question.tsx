'use client';

import { useEffect, useRef, useState } from 'react';
import type { FieldSummary } from '#core/search/field-summary.ts';
import { ConditionEditor } from '../../editors/condition-editor.tsx';
import { Button } from '../../kit/button.tsx';
import { WindowPicker } from '../../kit/times/window-picker.tsx';
import type { Explored } from './use-explore.ts';
import type { SearchState } from './use-search.ts';
import { views } from './views/index.ts';

/** So long after it is shown a search may be restored (milliseconds). */
const restoring = 3_000;

/** The condition, the window, and the button that runs or stops the search. */
export function Question({
  asked,
  search,
  fields,
}: {
  readonly asked: Explored;
  readonly search: SearchState;
  readonly fields: readonly FieldSummary[];
}) {
  const { condition, window, start, view } = asked;
  const { action, hasWindow } = views[view];
  const [typed, setTyped] = useState(condition);
  const isTyping = useRef(false);
  const [shownAt] = useState(() => Date.now());
  useEffect(() => {
    // Who comes without a question finds the last one again, unless they have begun to type another meanwhile.
    if (!isTyping.current) setTyped(condition);
    isTyping.current = false;
  }, [condition]);
  const type = (text: string): void => {
    isTyping.current = condition === '' && text !== '' && Date.now() - shownAt < restoring;
    setTyped(text);
  };
  const run = (): void => {
    isTyping.current = false;
    start(typed);
  };
  return (
    <div className="mt-2 flex items-start gap-3">
      <div className="min-w-0 flex-1">
        <ConditionEditor
          isSearch
          value={typed}
          fields={fields}
          onChange={type}
          onRun={run}
          autoFocus={asked.isFocused}
        />
      </div>
      {hasWindow && <WindowPicker value={window} onChange={(next) => void asked.ask({ w: next })} />}
      {search.running ? (
        <Button className="h-[38px]" onClick={search.cancel}>
          Stop
        </Button>
      ) : (
        <Button look="main" className="h-[38px]" onClick={run}>
          {action}
        </Button>
      )}
    </div>
  );
}
