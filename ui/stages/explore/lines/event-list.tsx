'use client';

import { useVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef, useState } from 'react';
import { compileCondition } from '#core/conditions/condition.ts';
import { equals } from '#core/conditions/write.ts';
import type { FoundEvent } from '#core/search/found-event.ts';
import { Button } from '../../../kit/button.tsx';
import { BodyToMark } from './body-to-mark.tsx';
import { EventLine } from './event-line.tsx';
import { inWords } from './value-in-words.ts';

/** The found events, newest first; a click opens one. */
export function EventList(props: {
  readonly events: readonly FoundEvent[];
  readonly condition: string;
  readonly height: number;
  readonly onAdd: (part: string) => void;
  readonly onOpen: (event: FoundEvent) => void;
  readonly onAround: (event: FoundEvent) => void;
  /** Takes a template that was learnt from pieces of a body. */
  readonly onTemplate: (template: string) => void;
}) {
  const { events } = props;
  const holder = useRef<HTMLDivElement>(null);
  // By what it says: lines that came early are given again with the answer.
  const [open, setOpen] = useState<string | undefined>();
  const words = useMemo(() => {
    const compiled = compileCondition(props.condition);
    return compiled.ok ? compiled.condition.words : [];
  }, [props.condition]);
  const rows = useVirtualizer({
    count: events.length,
    getScrollElement: () => holder.current,
    estimateSize: () => 26,
    overscan: 12,
  });
  return (
    <section
      ref={holder}
      tabIndex={0}
      aria-label="Found events"
      className="min-w-0 flex-1 overflow-auto border-l border-ink"
      style={{ height: props.height }}
    >
      <ol className="relative" style={{ height: rows.getTotalSize() }}>
        {rows.getVirtualItems().map((item) => {
          const event = events[item.index];
          if (!event) return null;
          const id = event.id;
          return (
            <li
              key={item.key}
              data-index={item.index}
              ref={rows.measureElement}
              className="absolute inset-x-0 top-0 border-b border-hair/60"
              style={{ transform: `translateY(${item.start}px)` }}
            >
              <EventLine
                event={event}
                words={words}
                open={id === open}
                onToggle={() => setOpen(id === open ? undefined : id)}
              />
              {id === open && (
                <EventDetails
                  event={event}
                  others={events}
                  onTemplate={props.onTemplate}
                  onAdd={props.onAdd}
                  onOpen={() => props.onOpen(event)}
                  onAround={() => props.onAround(event)}
                />
              )}
            </li>
          );
        })}
      </ol>
    </section>
  );
}

function EventDetails(props: {
  readonly event: FoundEvent;
  readonly others: readonly FoundEvent[];
  readonly onAdd: (part: string) => void;
  readonly onOpen: () => void;
  readonly onAround: () => void;
  readonly onTemplate: (template: string) => void;
}) {
  const { event, others, onAdd, onOpen, onAround } = props;
  const fields: readonly (readonly [string, string | number | boolean])[] = [
    ...(event.emitter === '' ? [] : [['emitter', event.emitter] as const]),
    ...Object.entries(event.attributes),
  ];
  return (
    <div className="bg-sheet pr-3 pb-2.5 pl-[170px]">
      {event.body !== '' && (
        <BodyToMark
          body={event.body}
          others={others.filter(({ source }) => source === event.source).map(({ body }) => body)}
          onTemplate={props.onTemplate}
        />
      )}
      <dl className="grid grid-cols-[130px_1fr_130px_1fr] gap-x-3 gap-y-px text-[12.5px]">
        {fields.map(([name, value]) => (
          <div key={name} className="contents">
            <dt className="line truncate text-second" title={name}>
              {name}
            </dt>
            <dd className="line min-w-0">
              <button
                type="button"
                title="Filter by this value"
                className="max-w-full truncate text-left hover:text-mark hover:underline"
                onClick={() => onAdd(equals(name, value))}
              >
                {inWords(value, event.units[name])}
              </button>
            </dd>
          </div>
        ))}
      </dl>
      <div className="mt-1.5 flex gap-2">
        <Button look="quiet" className="-ml-3" onClick={onOpen}>
          Details
        </Button>
        <Button look="quiet" onClick={onAround}>
          What happened around it
        </Button>
      </div>
    </div>
  );
}
