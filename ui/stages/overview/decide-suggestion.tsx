'use client';

import { useState } from 'react';
import { toast } from 'sonner';
import type { SuggestionDecision } from '#core/usage/decision.ts';
import type { SuggestionsAnswer } from '../../data/answers.ts';
import { call, refresh } from '../../data/client.ts';
import { Button } from '../../kit/button.tsx';
import { counted } from '../../kit/counted.ts';
import { TextField } from '../../kit/text-field.tsx';
import { dayAndMinute } from '../../kit/times/times.ts';
import { ShapeText } from '../explore/shapes/shape-text.tsx';

/** For how long a suggestion is put off. */
const days = 30;

/** Puts a suggestion off, or refuses it with a reason. */
export function DecideSuggestion({ id, onDone }: { readonly id: string; readonly onDone: () => void }) {
  const [reason, setReason] = useState('');
  const [fault, setFault] = useState('');
  const refuse = (): void => {
    if (reason.trim() === '') setFault('Say why, so that others know.');
    else void decide(id, 'refuse', reason.trim()).then(onDone);
  };
  return (
    <form
      className="mt-1.5 flex flex-wrap items-start justify-end gap-x-2 gap-y-1"
      onSubmit={(event) => {
        event.preventDefault();
        refuse();
      }}
    >
      <TextField
        isLabelHidden
        label="Reason"
        placeholder="Why these lines are needed"
        className="basis-full text-[12.5px]"
        maxLength={500}
        value={reason}
        fault={fault}
        onChange={(event) => {
          setReason(event.target.value);
          setFault('');
        }}
      />
      <Button type="submit" look="quiet" className="text-[12.5px]">
        Refuse
      </Button>
      <Button
        look="quiet"
        className="text-[12.5px] whitespace-nowrap"
        onClick={() => void decide(id, 'put off', reason.trim()).then(onDone)}
      >
        Put off for {days} days
      </Button>
    </form>
  );
}

/** Decides about a suggestion, and has the list read again. */
export async function decide(id: string, decision: SuggestionDecision, reason: string): Promise<void> {
  try {
    await call('decideSuggestion', { id, decision, days, reason });
    await refresh('suggestions');
  } catch (error) {
    toast.error(error instanceof Error ? error.message : 'The decision was not saved.');
  }
}

/** Suggestions that were put off or refused, behind a button. */
export function DecidedSuggestions({ decided }: Pick<SuggestionsAnswer, 'decided'>) {
  const [isOpen, setOpen] = useState(false);
  if (decided.length === 0) return null;
  return (
    <>
      <Button look="quiet" className="-ml-3 text-[12.5px]" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
        {counted(decided.length, 'suggestion')} put off or refused
      </Button>
      {isOpen && (
        <ul>
          {decided.map(({ id, pieces, title, until, reason, at }) => (
            <li key={id} className="border-t border-hair py-1.5">
              <span className="line block truncate">
                {pieces.length > 0 ? <ShapeText pieces={pieces} /> : title || id}
              </span>
              <div className="flex items-baseline gap-x-3">
                <small className="min-w-0 flex-1 text-[12px] text-second">
                  {until === null ? `refused ${dayAndMinute(at)}` : `put off until ${dayAndMinute(until)}`}
                  {reason !== '' && ` · ${reason}`}
                </small>
                <Button look="quiet" className="-mr-3 text-[12.5px]" onClick={() => void decide(id, 'reopen', '')}>
                  Reopen
                </Button>
              </div>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
