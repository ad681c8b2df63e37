'use client';

import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { CalendarDays } from 'lucide-react';
import { DayPicker } from 'react-day-picker';

/** A calendar behind a small button, from which a day is taken into a field beside it. */
export function DayChoice(props: {
  readonly label: string;
  readonly day: Date | undefined;
  readonly onChoose: (day: Date) => void;
}) {
  const { label, day, onChoose } = props;
  return (
    <Popover className="relative flex items-center">
      <PopoverButton
        aria-label={label}
        title={label}
        className="rounded p-1.5 text-second hover:bg-land hover:text-ink"
      >
        <CalendarDays size={15} aria-hidden="true" />
      </PopoverButton>
      <PopoverPanel
        anchor="bottom end"
        className="z-50 rounded-[5px] border border-hair bg-sheet p-3 text-[12.5px] shadow-lg"
      >
        {({ close }) => (
          <DayPicker
            mode="single"
            weekStartsOn={1}
            selected={day}
            {...(day && { defaultMonth: day })}
            onSelect={(chosen) => {
              if (chosen) onChoose(chosen);
              close();
            }}
            classNames={{
              month_caption: 'mb-1 font-semibold',
              nav: 'absolute top-3 right-3 flex gap-1',
              chevron: 'size-3.5 fill-second',
              weekday: 'w-8 py-1 font-normal text-second',
              day_button: 'size-8 rounded hover:bg-land',
              selected: 'font-semibold text-mark',
              today: 'underline',
              outside: 'text-second',
            }}
          />
        )}
      </PopoverPanel>
    </Popover>
  );
}
