'use client';

import { Radio, RadioGroup } from '@headlessui/react';

interface Option<T extends string> {
  readonly value: T;
  readonly title: string;
}

/** One of a few alternatives, side by side. `marked` shows the choice in the colour of change. */
export function Choice<T extends string>(props: {
  readonly label: string;
  readonly value: T;
  readonly options: readonly Option<T>[];
  readonly onChange: (value: T) => void;
  readonly marked?: boolean;
}) {
  const look = props.marked
    ? 'data-checked:bg-mark-wash data-checked:text-mark'
    : 'data-checked:bg-land data-checked:text-ink';
  return (
    <RadioGroup
      value={props.value}
      onChange={props.onChange}
      aria-label={props.label}
      className="inline-flex overflow-hidden rounded-[5px] border border-hair bg-sheet text-[12.5px]"
    >
      {props.options.map((option) => (
        <Radio
          key={option.value}
          value={option.value}
          className={`cursor-pointer px-2.5 py-0.5 text-second data-checked:font-semibold data-focus:outline-2 data-focus:-outline-offset-2 data-focus:outline-mark ${look}`}
        >
          {option.title}
        </Radio>
      ))}
    </RadioGroup>
  );
}
