'use client';

import { useEffect, useRef, useState } from 'react';
import { equals } from '#core/conditions/write.ts';
import { day } from '#core/events/time-units.ts';
import { formatCount, formatDuration } from '#core/events/units.ts';
import type { FoundEvent } from '#core/search/found-event.ts';
import type { SearchOrder } from '#core/search/order.ts';
import { useQuestion } from '../../../data/client.ts';
import { Button } from '../../../kit/button.tsx';
import { Choice } from '../../../kit/choice.tsx';
import { Problem } from '../../../kit/section.tsx';
import { EventLine } from './event-line.tsx';
import { useListHeight } from './use-list-height.ts';

/** Whose events are shown around one of them. */
export const scopes = ['emitter', 'source', 'everything'] as const;
export type Scope = (typeof scopes)[number];

/** How far it is looked in each direction, in milliseconds. */
const reach = day;
/** Events shown in each direction at first, and with each step further; and at most, as many as a search gives. */
const stride = 25;
const most = 1_000;
/** A pause is shown when it is longer than this (milliseconds) and than so many of the usual ones. */
const leastPause = 1_000;
const unusual = 8;

/** What happened before and after one event: of its emitter, of its source, or of all. */
export function Surroundings(props: {
  readonly anchor: string;
  readonly scope: Scope;
  /** The id of the event that is open in the panel. */
  readonly open: string | null;
  readonly onScope: (scope: Scope) => void;
  readonly onOpen: (id: string) => void;
  readonly onLeave: () => void;
}) {
  const { anchor, scope } = props;
  const listHeight = useListHeight();
  const { data: found, error } = useQuestion('event', { id: anchor });
  const event = found && found.event.id === anchor ? found.event : undefined;
  const [earlier, setEarlier] = useState(stride);
  const [later, setLater] = useState(stride);
  const before = useAround(event, { scope, order: 'newest', limit: earlier });
  const after = useAround(event, { scope, order: 'oldest', limit: later });
  const list = useRef<HTMLOListElement>(null);
  const isFull = before.events !== undefined && after.events !== undefined;
  // What it is about is in the middle at first.
  useEffect(() => {
    const place = list.current?.querySelector<HTMLElement>('[data-anchor]');
    if (isFull && list.current && place)
      list.current.scrollTop = place.offsetTop - list.current.offsetTop - listHeight / 2;
  }, [isFull, listHeight]);
  if (error) return <Problem>{error.message}</Problem>;
  if (!event) return <p className="py-2 text-second">Looking for the event …</p>;
  const events = [...(after.events?.toReversed() ?? []), ...(before.events ?? [])];
  const usual = usualPause(events);
  return (
    <section aria-label="Around the event" className="min-w-0 flex-1">
      <div className="mb-2 flex items-center gap-3">
        <Choice
          label="Around it"
          value={scope}
          onChange={props.onScope}
          options={[
            ...(event.emitter === '' ? [] : [{ value: 'emitter' as const, title: `of ${event.emitter}` }]),
            { value: 'source', title: `of ${event.source}` },
            { value: 'everything', title: 'of everything' },
          ]}
        />
        <Button look="quiet" onClick={props.onLeave}>
          Back to results
        </Button>
      </div>
      <Further state={after} limit={later} way="later" onMore={() => setLater(Math.min(most, later + stride))} />
      <ol ref={list} className="overflow-auto border-l border-ink" style={{ maxHeight: listHeight }}>
        {events.map((one, index) => {
          const id = one.id;
          const next = events[index + 1];
          return (
            <li key={`${id} ${index}`} {...(id === anchor && { 'data-anchor': '' })}>
              <div className={`border-b border-hair/60 ${id === anchor ? 'bg-mark-wash font-[650]' : ''}`}>
                <EventLine
                  event={one}
                  words={[]}
                  open={id === props.open}
                  onToggle={() => props.onOpen(id)}
                  distance={id === anchor ? 'this event' : distanceOf(one, event)}
                />
              </div>
              {next && <Pause between={one.time - next.time} usual={usual} />}
            </li>
          );
        })}
      </ol>
      <Further
        state={before}
        limit={earlier}
        way="earlier"
        onMore={() => setEarlier(Math.min(most, earlier + stride))}
      />
    </section>
  );
}

interface Around {
  readonly events: readonly FoundEvent[] | undefined;
  readonly failed: string | undefined;
}

/** The events up to an event and itself (`newest`), or those after its millisecond (`oldest`). */
function useAround(
  event: FoundEvent | undefined,
  { scope, order, limit }: { readonly scope: Scope; readonly order: SearchOrder; readonly limit: number },
): Around {
  const edge = event ? Math.floor(event.time) + 1 : 0;
  const question = event && {
    condition: conditionOf(event, scope),
    from: order === 'newest' ? edge - reach : edge,
    to: order === 'newest' ? edge : edge + reach,
    order,
    limit,
    count: false,
    buckets: 0,
  };
  const { data, error } = useQuestion('search', question ?? null);
  return { events: data?.events, failed: error?.message };
}

function conditionOf({ source, emitter }: FoundEvent, scope: Scope): string {
  if (scope === 'everything') return '';
  return scope === 'source' ? equals('source', source) : `${equals('source', source)} ${equals('emitter', emitter)}`;
}

/** How long before or after another event one happened. */
function distanceOf(event: FoundEvent, anchor: FoundEvent): string {
  const apart = event.time - anchor.time;
  if (apart === 0) return '0 ms';
  return `${apart > 0 ? '+' : '−'}${formatDuration(Math.abs(apart) / 1_000)}`;
}

/** The middle one of the pauses between events that follow each other, in milliseconds. */
function usualPause(events: readonly FoundEvent[]): number {
  const pauses = events.slice(1).map((event, index) => (events[index] as FoundEvent).time - event.time);
  return pauses.sort((a, b) => a - b)[pauses.length >> 1] ?? 0;
}

function Pause({ between, usual }: { readonly between: number; readonly usual: number }) {
  if (between < leastPause || between < unusual * usual) return null;
  return (
    <p className="border-b border-hair/60 py-0.5 pl-[30px] text-[12px] text-second">
      no events for {formatDuration(between / 1_000)}
    </p>
  );
}

function Further(props: {
  readonly state: Around;
  readonly limit: number;
  readonly way: 'earlier' | 'later';
  readonly onMore: () => void;
}) {
  const { state, limit, way } = props;
  if (state.failed) return <Problem>{state.failed}</Problem>;
  if (!state.events) return <p className="py-1 text-second">Looking {way} …</p>;
  if (state.events.length < limit)
    return (
      <p className="py-1 text-[12.5px] text-second">
        Nothing {way} within {formatDuration(reach / 1_000)}.
      </p>
    );
  if (limit >= most)
    return (
      <p className="py-1 text-[12.5px] text-second">
        More than {formatCount(most)} {way}.
      </p>
    );
  return (
    <Button look="quiet" className="-ml-3" onClick={props.onMore}>
      {stride} more, {way}
    </Button>
  );
}
