'use client';

import { useState } from 'react';
import type { SuggestionsAnswer } from '../../data/answers.ts';
import { Button } from '../../kit/button.tsx';
import { counted } from '../../kit/counted.ts';
import { dayAndMinute } from '../../kit/times/times.ts';
import { SavingMonths } from '../../parts/saving-months.tsx';
import { ShapeText } from '../explore/shapes/shape-text.tsx';
import { decide } from './decide-suggestion.tsx';

/** Suggestions that were added to a draft, each with what it was to save and what it saves, behind a button. */
export function TakenSuggestions({ taken, currency }: Pick<SuggestionsAnswer, 'taken' | 'currency'>) {
  const [isOpen, setOpen] = useState(false);
  if (taken.length === 0) return null;
  return (
    <>
      <Button look="quiet" className="-ml-3 text-[12.5px]" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
        {counted(taken.length, 'suggestion')} followed up
      </Button>
      {isOpen && (
        <ul aria-label="Suggestions followed up">
          {taken.map(({ shape, pieces, at, since, months }) => (
            <li key={shape} className="border-t border-hair py-1.5">
              <span className="line block truncate">
                <ShapeText pieces={pieces} />
              </span>
              <div className="flex items-baseline gap-x-3">
                <small className="min-w-0 flex-1 text-[12px] text-second">
                  {since === null
                    ? `added to a draft ${dayAndMinute(at)}; not excluded yet`
                    : `excluded since ${dayAndMinute(since)}`}
                </small>
                <Button look="quiet" className="-mr-3 text-[12.5px]" onClick={() => void decide(shape, 'reopen', '')}>
                  Stop following
                </Button>
              </div>
              {currency && months.length > 0 && (
                <SavingMonths label="Promised and saved" months={months} currency={currency} />
              )}
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
