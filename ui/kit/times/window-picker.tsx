'use client';

import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { addDays, format } from 'date-fns';
import { ChevronDown } from 'lucide-react';
import { useEffect, useState } from 'react';
import { parseWindow } from '#core/conditions/times.ts';
import { formatDuration } from '#core/events/units.ts';
import { DayChoice } from './day-choice.tsx';
import { formatShown } from './times.ts';

/** How often the ends of a window that goes up to now are written anew, in milliseconds. */
const refreshEvery = 15_000;
const common = ['-5m', '-15m', '-1h', '-6h', '-1d', '-3d', '-14d'];

/** A window of time, typed as `-45m..-30m` or picked. */
export function WindowPicker({
  value,
  onChange,
}: {
  readonly value: string;
  readonly onChange: (value: string) => void;
}) {
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  // What a time is called depends on who looks at it, and when: the server says nothing of it.
  const [now, setNow] = useState<number | undefined>();
  useEffect(() => {
    setNow(Date.now());
    const timer = setInterval(() => setNow(Date.now()), refreshEvery);
    return () => clearInterval(timer);
  }, []);
  const parsed = parseWindow(text, now ?? 0);
  const submit = (): void => {
    if (parsed && text !== value) onChange(text);
  };
  return (
    <div className="relative w-[250px] shrink-0 rounded-[5px] border border-hair bg-sheet">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          submit();
        }}
        className="flex"
      >
        <input
          aria-label="Time window"
          value={text}
          onChange={(event) => setText(event.target.value)}
          onBlur={submit}
          aria-invalid={now !== undefined && !parsed}
          className="line w-full min-w-0 bg-transparent px-3 py-2 text-[13.5px]"
        />
        <Popover className="relative">
          <PopoverButton aria-label="Common windows" className="h-full px-2.5 text-second hover:text-ink">
            <ChevronDown size={15} aria-hidden="true" />
          </PopoverButton>
          <PopoverPanel anchor="bottom end" className="z-20 w-44 rounded-[5px] border border-hair bg-sheet py-1">
            {({ close }) => (
              <>
                {common.map((window) => (
                  <button
                    key={window}
                    type="button"
                    className="block w-full px-3 py-1 text-left hover:bg-land"
                    onClick={() => {
                      onChange(window);
                      close();
                    }}
                  >
                    last {formatDuration(-(parseWindow(window, 0)?.from ?? 0) / 1000)}
                  </button>
                ))}
              </>
            )}
          </PopoverPanel>
        </Popover>
        <DayChoice
          label="A whole day"
          day={parsed && new Date(parsed.from)}
          onChoose={(day) => onChange(`${format(day, 'yyyy-MM-dd')}..${format(addDays(day, 1), 'yyyy-MM-dd')}`)}
        />
      </form>
      <p
        className={`absolute top-full right-0 text-[12px] whitespace-nowrap ${parsed ? 'text-second' : 'text-danger'}`}
      >
        {now === undefined
          ? ''
          : parsed
            ? `${formatShown(parsed.from, 'd MMM HH:mm')} to ${formatShown(parsed.to, 'd MMM HH:mm')} · ${formatDuration((parsed.to - parsed.from) / 1000)}`
            : 'for example -45m..-30m, -1h or 2026-11-24..now'}
      </p>
    </div>
  );
}
