'use client';

import { useState } from 'react';
import type { Conflict, Side } from '#core/plan/merge.ts';
import { placeInWords } from '#core/plan/place-in-words.ts';
import { useOpenQuestion } from '../data/choices.ts';
import { Button } from '../kit/button.tsx';
import { Dialog } from '../kit/dialog.tsx';

/** Shown where two people changed the same thing: both versions, of which whoever is here chooses one at each place. */
export function ChooseSides() {
  const question = useOpenQuestion();
  const [choices, setChoices] = useState<Readonly<Record<string, Side>>>({});
  const conflicts = question?.conflicts ?? [];
  const isDecided = conflicts.every(({ path }) => choices[path]);
  const answer = (given: Readonly<Record<string, Side>> | undefined): void => {
    setChoices({});
    question?.answer(given);
  };
  return (
    <Dialog open={question !== undefined} title="Someone else changed the same parts" onClose={() => answer(undefined)}>
      <p className="mb-3">Choose which version to keep. All other changes of both are kept.</p>
      {conflicts.map((conflict) => (
        <Choice
          key={conflict.path}
          conflict={conflict}
          place={question ? placeInWords(question.plan, conflict.path).words : ''}
          chosen={choices[conflict.path]}
          onChoose={(side) => setChoices({ ...choices, [conflict.path]: side })}
        />
      ))}
      <div className="mt-4 flex justify-end gap-3">
        <Button onClick={() => answer(undefined)}>Discard mine</Button>
        <Button look="main" disabled={!isDecided} onClick={() => answer(choices)}>
          Continue
        </Button>
      </div>
    </Dialog>
  );
}

function Choice(props: {
  readonly conflict: Conflict;
  readonly place: string;
  readonly chosen: Side | undefined;
  readonly onChoose: (side: Side) => void;
}) {
  const { conflict, place, chosen, onChoose } = props;
  const sides: readonly (readonly [Side, string])[] = [
    ['mine', 'Mine'],
    ['theirs', 'Theirs'],
  ];
  return (
    <fieldset className="mb-3 border-t border-hair pt-2">
      <legend className="pr-2 font-semibold">{place}</legend>
      <div className="grid grid-cols-2 gap-3">
        {sides.map(([side, title]) => (
          <label key={side} className="flex min-w-0 items-start gap-2">
            <input
              type="radio"
              name={conflict.path}
              checked={chosen === side}
              onChange={() => onChoose(side)}
              className="mt-1 accent-mark"
            />
            <span className="min-w-0">
              <span className="font-[550]">{title}</span>
              <pre className="max-h-40 overflow-auto whitespace-pre-wrap break-words font-mono text-[12px]">
                {written(conflict[side])}
              </pre>
            </span>
          </label>
        ))}
      </div>
    </fieldset>
  );
}

/** A part of a plan as people read it. */
function written(value: unknown): string {
  if (value === undefined) return 'removed';
  return typeof value === 'string' ? value || '(empty)' : JSON.stringify(value, null, 1);
}
