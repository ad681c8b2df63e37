'use client';

import { useVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef, useState } from 'react';
import type { WordNode } from '#core/conditions/ast.ts';
import { compileCondition } from '#core/conditions/condition.ts';
import { equals } from '#core/conditions/write.ts';
import type { EventRecord } from '#core/events/batch.ts';
import { severityWord } from '#core/events/severity.ts';
import { Button } from '../../kit/button.tsx';
import { clock, inUtc } from '../../kit/times.ts';

/** The found events, newest first; a click opens one. */
export function EventList(props: {
  readonly events: readonly EventRecord[];
  readonly condition: string;
  readonly height: number;
  readonly onAdd: (part: string) => void;
  readonly onAround: (event: EventRecord) => void;
}) {
  const { events } = props;
  const holder = useRef<HTMLDivElement>(null);
  const [open, setOpen] = useState<EventRecord | undefined>();
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
                open={event === open}
                onToggle={() => setOpen(event === open ? undefined : event)}
              />
              {event === open && (
                <EventDetails event={event} onAdd={props.onAdd} onAround={() => props.onAround(event)} />
              )}
            </li>
          );
        })}
      </ol>
    </section>
  );
}

/** Lengths of the tick that stands for severity, by word. */
const ticks: Readonly<Record<string, number>> = {
  unset: 2,
  trace: 3,
  debug: 5,
  info: 8,
  warn: 13,
  error: 18,
  fatal: 24,
};

function EventLine(props: {
  readonly event: EventRecord;
  readonly words: readonly WordNode[];
  readonly open: boolean;
  readonly onToggle: () => void;
}) {
  const { event } = props;
  const severity = severityWord(event.severity);
  return (
    <button
      type="button"
      aria-expanded={props.open}
      onClick={props.onToggle}
      className={`line grid w-full grid-cols-[26px_96px_42px_1fr] items-baseline gap-x-1 py-[3px] pr-2 text-left ${props.open ? 'bg-sheet' : 'hover:bg-land/40'}`}
    >
      <span aria-hidden="true" className="h-[3px] self-center bg-ink" style={{ width: ticks[severity] }} />
      <time className="text-second" title={inUtc(event.time)}>
        {clock(event.time)}
      </time>
      <span className="font-sans text-[12px] text-second">{severity === 'unset' ? '' : severity}</span>
      <span className={props.open ? 'break-all' : 'truncate'}>
        <b className="font-[650]">{event.source}</b>
        {event.weight > 1 && <span className="text-mark"> ≈ {Math.round(event.weight)} ×</span>}{' '}
        <Marked text={event.body || inShort(event)} words={props.words} />
      </span>
    </button>
  );
}

/** What stands for a body that was dropped: the fields. */
function inShort(event: EventRecord): string {
  return Object.entries(event.attributes)
    .map(([name, value]) => `${name}=${value}`)
    .join(' ');
}

function Marked({ text, words }: { readonly text: string; readonly words: readonly WordNode[] }) {
  const found = words
    .filter((word) => word.text !== '')
    .map((word) => word.text.replace(/[.+?^${}()|[\]\\]/g, '\\$&').replaceAll('*', '\\S*'));
  if (found.length === 0) return text;
  const pieces = text.split(new RegExp(`(${found.join('|')})`, 'gi'));
  return pieces.map((piece, index) => {
    const key = `${index} ${piece}`;
    return index % 2 === 1 ? (
      <mark key={key} className="rounded-[2px] bg-land text-inherit">
        {piece}
      </mark>
    ) : (
      <span key={key}>{piece}</span>
    );
  });
}

function EventDetails({
  event,
  onAdd,
  onAround,
}: {
  readonly event: EventRecord;
  readonly onAdd: (part: string) => void;
  readonly onAround: () => void;
}) {
  const fields: readonly (readonly [string, string | number | boolean])[] = [
    ...(event.emitter === '' ? [] : [['emitter', event.emitter] as const]),
    ...Object.entries(event.attributes),
  ];
  return (
    <div className="bg-sheet pr-3 pb-2.5 pl-[170px]">
      <dl className="grid grid-cols-[130px_1fr_130px_1fr] gap-x-3 gap-y-px text-[12.5px]">
        {fields.map(([name, value]) => (
          <div key={name} className="contents">
            <dt className="line truncate text-second" title={name}>
              {name}
            </dt>
            <dd className="line min-w-0">
              <button
                type="button"
                title="Narrow to this value"
                className="max-w-full truncate text-left hover:text-mark hover:underline"
                onClick={() => onAdd(equals(name, value))}
              >
                {String(value)}
              </button>
            </dd>
          </div>
        ))}
      </dl>
      <div className="mt-1.5 flex gap-2">
        <Button look="quiet" className="-ml-3" onClick={onAround}>
          What else happened around it
        </Button>
        <Button look="quiet" onClick={() => void navigator.clipboard.writeText(JSON.stringify(event))}>
          Copy
        </Button>
      </div>
    </div>
  );
}
