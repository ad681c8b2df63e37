'use client';

import { Field, Label, Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/react';
import { Check, ChevronDown } from 'lucide-react';

/** One of several things that can be chosen. */
export interface SelectOption<Value extends string> {
  readonly value: Value;
  readonly title: string;
  /** The text on the button once it is chosen; default: the title. */
  readonly shown?: string;
}

interface Props<Value extends string> {
  readonly label: string;
  /** Whether the label is for those alone who do not see it. */
  readonly isLabelHidden?: boolean;
  readonly value: Value;
  readonly options: readonly SelectOption<Value>[];
  readonly onChange: (value: Value) => void;
  /** What is there while nothing is chosen. */
  readonly placeholder?: string;
  readonly className?: string;
  /** `word`: part of a sentence, with a dotted underline instead of a box. */
  readonly look?: 'box' | 'word';
}

const looks = {
  box: 'rounded-[5px] border border-hair bg-sheet px-2 py-1',
  word: 'min-h-6 border-b border-dotted border-mark font-semibold hover:text-mark',
} as const;

/** A list from which one thing is chosen: typing goes to what begins so, Esc closes it. */
export function Select<Value extends string>(props: Props<Value>) {
  const { label, isLabelHidden = false, value, options, onChange, placeholder = 'choose' } = props;
  const { className = '', look = 'box' } = props;
  const chosen = options.find((option) => option.value === value);
  return (
    <Field className={className}>
      <Label className={isLabelHidden ? 'sr-only' : 'block text-[12.5px] font-semibold text-second'}>{label}</Label>
      <Listbox value={value} onChange={onChange}>
        <ListboxButton
          className={`${isLabelHidden ? '' : 'mt-1'} inline-flex max-w-full items-center gap-1.5 text-left ${looks[look]}`}
        >
          <span className={`truncate ${chosen ? '' : 'text-second'}`}>
            {chosen?.shown ?? chosen?.title ?? placeholder}
          </span>
          <ChevronDown size={14} aria-hidden="true" className="shrink-0 text-second" />
        </ListboxButton>
        <ListboxOptions
          anchor={{ to: 'bottom start', gap: 3 }}
          className="z-50 max-h-72! min-w-(--button-width) overflow-auto rounded-[5px] border border-hair bg-sheet py-1 shadow-lg focus:outline-none"
        >
          {options.map((option) => (
            <ListboxOption
              key={option.value}
              value={option.value}
              className="flex cursor-pointer items-center gap-2 px-2.5 py-1 data-focus:bg-land data-selected:font-semibold"
            >
              <Check size={13} aria-hidden="true" className={option.value === value ? 'text-mark' : 'invisible'} />
              {option.title}
            </ListboxOption>
          ))}
        </ListboxOptions>
      </Listbox>
    </Field>
  );
}
