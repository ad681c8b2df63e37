'use client';

import { useEffect, useState } from 'react';
import { Choice } from '../../../kit/choice.tsx';
import { TextField } from '../../../kit/text-field.tsx';
import type { Why } from './use-why.ts';

const common = [
  { value: 'events', title: 'Events' },
  { value: 'bytes', title: 'Bytes' },
  { value: 'received bytes', title: 'Received bytes' },
  { value: 'cost', title: 'Cost' },
  { value: 'share of severity >= error', title: 'Errors' },
  { value: 'other', title: 'Figure' },
] as const;

type Common = (typeof common)[number]['value'];

/** Chooses the figure and the window to compare with. */
export function WhyBar({ why }: { readonly why: Why }) {
  const { measure, beside, setMeasure, setBeside } = why;
  const known = common.find(({ value }) => value === measure)?.value ?? 'other';
  // Typing another figure ends when the measure changes.
  const [isTyping, setTyping] = useState(false);
  useEffect(() => {
    void measure;
    setTyping(false);
  }, [measure]);
  const choose = (value: Common): void => {
    if (value === 'other') setTyping(true);
    else {
      setTyping(false);
      setMeasure(value);
    }
  };
  const shown = isTyping ? 'other' : known;
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-2">
      <Choice label="Figure" value={shown} options={common} onChange={choose} />
      {shown === 'other' && (
        <Typed
          label="Figure of a summary"
          value={known === 'other' ? measure : ''}
          placeholder="p95(took)"
          onTake={setMeasure}
        />
      )}
      <Typed label="Compare with window" value={beside} placeholder="vs. normal level" onTake={setBeside} />
    </div>
  );
}

/** A text field that applies its value on blur or Enter. */
function Typed(props: {
  readonly label: string;
  readonly value: string;
  readonly placeholder: string;
  readonly onTake: (text: string) => void;
}) {
  const { label, value, placeholder, onTake } = props;
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  const take = (): void => {
    if (text !== value) onTake(text);
  };
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        take();
      }}
    >
      <TextField
        mono
        isLabelHidden
        label={label}
        title={label}
        className="w-[170px]"
        value={text}
        placeholder={placeholder}
        onChange={(event) => setText(event.target.value)}
        onBlur={take}
      />
    </form>
  );
}
