'use client';

import { formatBytes } from '#core/events/units.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { RehearsalAnswer } from '#core/rehearsal/rehearsal-answer.ts';
import type { RehearsedSurge, SurgeStore } from '#core/rehearsal/rehearsed-surge.ts';
import type { SurgeChoice } from '#core/rehearsal/surge.ts';
import { surgeShape } from '../../data/plan-requests.ts';
import { Form, TextInput } from '../../kit/form.tsx';
import { RehearsedCaps } from './rehearsed-caps.tsx';
import { SurgeCost } from './surge-cost.tsx';

/** A form for a surge on top of the rehearsed traffic, and its result. */
export function Surge(props: {
  readonly rehearsal: RehearsalAnswer;
  readonly draft: PlanDocument;
  readonly onRehearse: (surge: SurgeChoice) => Promise<void>;
}) {
  const { surge } = props.rehearsal;
  const { condition = '', times = 10, from = '18:00', length = '2h' } = surge ?? {};
  return (
    <div className="mt-4">
      <h2>Simulate a surge</h2>
      {surge && <SurgeResult surge={surge} draft={props.draft} money={props.rehearsal.money} />}
      <Form<SurgeChoice>
        label="Surge"
        shape={surgeShape}
        start={{ condition, times, from, length }}
        onSend={async (typed) => await props.onRehearse(surgeShape.cast(typed))}
        submit="Rehearse with surge"
      >
        <TextInput name="condition" label="Events" mono placeholder="source = booking-*" />
        <div className="flex gap-3">
          <TextInput name="times" label="Times" mono className="w-20" hint="0: silent" />
          <TextInput name="from" label="From (UTC)" mono className="w-24" />
          <TextInput name="length" label="For" mono className="w-20" />
        </div>
      </Form>
    </div>
  );
}

function SurgeResult(props: {
  readonly surge: RehearsedSurge;
  readonly draft: PlanDocument;
  readonly money: RehearsalAnswer['money'];
}) {
  const { surge, draft, money } = props;
  const { condition, times, from, length, arrives, tiers } = surge;
  return (
    <div className="mb-3 text-[12.5px]">
      <p>
        <code className="line">{condition}</code> × {times} for {length} from {from} UTC: <b>{signed(arrives)}</b> that
        day{tiers.length === 0 && ', none of it kept'}.
      </p>
      <ul aria-label="Volume added by the surge">
        {tiers.map(({ id, live, draft: after }) => (
          <li key={id} className="flex justify-between gap-3 border-t border-hair py-1">
            <span>{draft.tiers.find((tier) => tier.id === id)?.title ?? id}</span>
            <span>
              now {signed(live)}, draft <b>{signed(after)}</b>
            </span>
          </li>
        ))}
      </ul>
      <SurgeStoreLine store={surge.store} />
      {money?.surge && <SurgeCost surge={money.surge} currency={money.currency} draft={draft} />}
      <RehearsedCaps caps={surge.caps} draft={draft} title="Caps with the surge" />
    </div>
  );
}

/** Sign and number stay on one line. */
function signed(bytes: number): string {
  return `${bytes < 0 ? '−' : '+'} ${formatBytes(Math.abs(bytes))}`.replaceAll(' ', '\u00a0');
}

/** What a surge adds to the store, beside the room that there is. */
function SurgeStoreLine({ store: { live, draft, free } }: { readonly store: SurgeStore }) {
  if (live === 0 && draft === 0) return null;
  const isTooMuch = free !== null && draft > free;
  return (
    <p className={`mt-1 ${isTooMuch ? 'text-danger' : ''}`}>
      {isTooMuch && '◆ '}Store: now {signed(live)}, draft <b>{signed(draft)}</b>
      {free !== null && `; ${formatBytes(free)} free on its disk`}.
    </p>
  );
}
