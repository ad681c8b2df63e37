'use client';

import type { AttributeValue } from '#core/events/columns.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { ChangedEvent, EventSide } from '#core/rehearsal/changed-events.ts';
import { outcomeInWords } from '../explore/arrivals/outcome-in-words.ts';

/** Example events that the draft treats differently, before and after. */
export function ChangedEvents(props: {
  readonly events: readonly ChangedEvent[];
  readonly live: PlanDocument | undefined;
  readonly draft: PlanDocument;
}) {
  if (props.events.length === 0) return null;
  return (
    <div>
      <h2>Examples of changed events</h2>
      <ul aria-label="Changed events" className="text-[12.5px]">
        {props.events.map((event) => (
          <li key={`${event.time} ${event.source} ${event.body}`} className="border-t border-hair py-1.5">
            <span className="text-second">{event.source}</span>
            <code className="line block truncate" title={event.body}>
              {event.body}
            </code>
            <Sides event={event} live={props.live} draft={props.draft} />
          </li>
        ))}
      </ul>
    </div>
  );
}

function Sides({
  event: { live: before, draft: after },
  live,
  draft,
}: {
  readonly event: ChangedEvent;
  readonly live: PlanDocument | undefined;
  readonly draft: PlanDocument;
}) {
  const moves = placeOf(before) !== placeOf(after);
  const names = [...new Set([...Object.keys(before.fields), ...Object.keys(after.fields)])];
  return (
    <>
      {moves && (
        <p>
          {outcomeInWords(before, live).words} → <b>{outcomeInWords(after, draft).words}</b>
        </p>
      )}
      {names.map((name) => (
        <p key={name} className="truncate">
          <code className="line">{name}</code> <Value value={before.fields[name]} /> →{' '}
          <b>
            <Value value={after.fields[name]} />
          </b>
        </p>
      ))}
    </>
  );
}

function placeOf({ outcome, tier, rule }: EventSide): string {
  return [outcome, tier, rule].join(' ');
}

function Value({ value }: { readonly value: AttributeValue | undefined }) {
  if (value === undefined) return <span className="text-second">none</span>;
  return <code className="line">{typeof value === 'string' ? `"${value}"` : String(value)}</code>;
}
