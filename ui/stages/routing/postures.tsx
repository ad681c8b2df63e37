'use client';

import { useState } from 'react';
import type { Currency } from '#core/costs/book/price-book.ts';
import { freeId } from '#core/plan/free-id.ts';
import { describeOverride } from '#core/plan/parts/postures/describe-override.ts';
import type { PostureDocument } from '#core/plan/parts/postures/postures-shape.ts';
import type { PricedAmount } from '#core/routing/volume-sums.ts';
import type { PostureView } from '../../data/answers.ts';
import { useDraft } from '../../data/draft.ts';
import { switchPosture, useSwitches } from '../../data/switches.ts';
import { Button } from '../../kit/button.tsx';
import { Section } from '../../kit/section.tsx';
import { Select } from '../../kit/select.tsx';
import { dayAndMinute } from '../../kit/times/times.ts';
import { type SwitchSpan, switchSpans } from './switch-spans.ts';
import { SwitchTokens } from './switch-tokens.tsx';
import { untilItsEnd } from './until-its-end.ts';

/** What the plan can be for a while: postures, each with what it changes and adds, and the switch. */
export function Postures({
  documents,
  onOpen,
}: {
  /** Those of the plan that is shown. */
  readonly documents: readonly PostureDocument[];
  readonly onOpen: (id: string) => void;
}) {
  const { change } = useDraft();
  const { postures: live, currency } = useSwitches();
  const add = async (): Promise<void> => {
    let id = '';
    await change((before) => {
      const others = before.postures ?? [];
      id = freeId(
        'new-posture',
        others.map((other) => other.id),
      );
      const posture = { id, title: 'New posture', overrides: [{ exclusion: '*', keep: 'all' }] };
      return { ...before, postures: [...others, posture] };
    });
    onOpen(id);
  };
  return (
    <Section
      title="Postures: overrides for a while that end by themselves"
      className="mt-8"
      aside={<Button onClick={() => void add()}>Add posture</Button>}
    >
      {documents.length === 0 && (
        <p className="border-y border-hair py-3 text-second">
          No postures yet. A posture turns exclusions off, lifts caps or keeps events longer while an investigation or a
          storm lasts.
        </p>
      )}
      {documents.map((document) => (
        <Posture
          key={document.id}
          document={document}
          live={live?.find(({ id }) => id === document.id)}
          currency={currency}
          onOpen={() => onOpen(document.id)}
        />
      ))}
      <SwitchTokens />
    </Section>
  );
}

function Posture({
  document,
  live,
  currency,
  onOpen,
}: {
  readonly document: PostureDocument;
  /** As it is in the live plan; undefined where it is not live yet. */
  readonly live: PostureView | undefined;
  /** Undefined where nothing has a price. */
  readonly currency: Currency | undefined;
  readonly onOpen: () => void;
}) {
  const { id, title, overrides, fleet, reason } = document;
  const on = live?.on;
  return (
    <div id={`posture-${id}`} className={`flex gap-6 border-t border-hair py-3 ${on ? 'bg-land/60' : ''}`}>
      <div className="w-[400px] min-w-0 shrink">
        <button type="button" onClick={onOpen} className="text-left text-[15px] font-[650] hover:text-mark">
          {title}
        </button>
        {fleet && <span className="text-[12.5px] text-second"> for the fleet {fleet}</span>}
        <p className="text-[12.5px] text-second">{reason}</p>
        <ul className="mt-0.5 text-[12.5px]">
          {overrides.map((override) => (
            <li key={`${override.exclusion} ${override.tier}`}>{describeOverride(override)}</li>
          ))}
        </ul>
      </div>
      <div className="min-w-0 flex-1">
        {!live ? (
          <p className="text-[12.5px] text-second">not live yet: publish the draft to switch it on</p>
        ) : on ? (
          <>
            <p>
              <b className="font-[650]">On</b> since {dayAndMinute(on.since)}, until {dayAndMinute(on.until)}
              {on.reason !== '' && `: ${on.reason}`}
            </p>
            <Button className="mt-1.5" onClick={() => void switchPosture(id, 'off')}>
              Switch off
            </Button>
          </>
        ) : (
          <SwitchOn id={id} title={title} adds={live.adds ?? undefined} currency={currency} />
        )}
      </div>
    </div>
  );
}

function SwitchOn(props: {
  readonly id: string;
  readonly title: string;
  /** What it keeps in an hour beyond what is kept without it; undefined while that is not known. */
  readonly adds: PricedAmount | undefined;
  readonly currency: Currency | undefined;
}) {
  const { id, title, adds, currency } = props;
  const [time, setTime] = useState<SwitchSpan>('1h');
  const [reason, setReason] = useState('');
  return (
    <div className="flex flex-wrap items-end gap-3">
      <Select label="For" value={time} onChange={setTime} options={switchSpans} className="w-32" />
      <label className="min-w-40 flex-1 text-[12.5px] font-semibold text-second">
        Why
        <input
          value={reason}
          maxLength={500}
          onChange={(event) => setReason(event.target.value)}
          className="mt-1 block w-full rounded-[5px] border border-hair bg-sheet px-2.5 py-1 text-[14px] font-normal text-ink"
        />
      </label>
      <Button
        look="main"
        aria-label={`Switch ${title} on`}
        onClick={() => void switchPosture(id, { for: time, reason: reason.trim() })}
      >
        Switch on
      </Button>
      {adds && <p className="w-full text-[12.5px] text-second">{untilItsEnd(adds, time, currency)}</p>}
    </div>
  );
}
