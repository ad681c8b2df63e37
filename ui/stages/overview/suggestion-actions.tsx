'use client';

import { type ReactNode, useState } from 'react';
import { Button } from '../../kit/button.tsx';
import { DecideSuggestion } from './decide-suggestion.tsx';

/** Why something is suggested, what it saves, and what can be done about it. */
export function SuggestionActions(props: {
  readonly id: string;
  readonly reason: string;
  readonly saving: ReactNode;
  /** What the button does that adds it to the draft. */
  readonly action: string;
  readonly onApply: () => void;
}) {
  const { id, reason, saving, action, onApply } = props;
  const [isDeciding, setDeciding] = useState(false);
  return (
    <>
      <div className="flex flex-wrap items-baseline gap-x-3">
        <small className="basis-full text-[12px] leading-4 text-second">{reason}</small>
        <b className="flex-1 font-semibold whitespace-nowrap">− {saving}</b>
        <Button look="quiet" className="-mr-3 whitespace-nowrap text-[12.5px]" onClick={onApply}>
          {action}
        </Button>
        <Button
          look="quiet"
          className="-mr-3 whitespace-nowrap text-[12.5px]"
          aria-expanded={isDeciding}
          onClick={() => setDeciding(!isDeciding)}
        >
          Not now …
        </Button>
      </div>
      {isDeciding && <DecideSuggestion id={id} onDone={() => setDeciding(false)} />}
    </>
  );
}
