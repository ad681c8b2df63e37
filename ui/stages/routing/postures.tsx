'use client';

import { useState } from 'react';
import type { PostureView } from '#core/answers/switches.ts';
import { formatCoins } from '#core/costs/format-coins.ts';
import type { Currency } from '#core/costs/price-book.ts';
import { formatBytes, formatCount } from '#core/events/units.ts';
import { describeOverride } from '#core/plan/diff.ts';
import type { PostureDocument } from '#core/plan/document.ts';
import type { PricedAmount } from '#core/views/volumes.ts';
import { freeId, useDraft } from '../../data/draft.ts';
import { switchPosture, useSwitches } from '../../data/switches.ts';
import { Button } from '../../kit/button.tsx';
import { Section } from '../../kit/section.tsx';
import { Select } from '../../kit/select.tsx';
import { dayAndMinute } from '../../kit/times.ts';
import { SwitchTokens } from './switch-tokens.tsx';

/** For how long a posture can be switched on with a click. */
const times = [
  { value: '2m', title: '2 minutes' },
  { value: '1h', title: '1 hour' },
  { value: '4h', title: '4 hours' },
  { value: '12h', title: '12 hours' },
  { value: '1d', title: '1 day' },
  { value: '3d', title: '3 days' },
];

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
          <SwitchOn id={id} title={title} />
        )}
        {live?.adds && <p className="mt-1.5 text-[12.5px] text-second">{addsInWords(live.adds, currency)}</p>}
      </div>
    </div>
  );
}

/** What a posture keeps in an hour beyond what is kept without it, and what that costs. */
function addsInWords({ events, bytes, coins }: PricedAmount, currency: Currency | undefined): string {
  const money = currency && coins > 0 ? formatCoins(coins, currency, true) : undefined;
  if (events >= 0.5) {
    const more = `keeps ≈ ${formatBytes(bytes)}, ${formatCount(events)} events more per hour`;
    return `${more}${money === undefined ? '' : `, which cost ${money}`}, at the rate of the last 24 h`;
  }
  return money === undefined
    ? 'at the rate of the last 24 h it would keep nothing more'
    : `at the rate of the last 24 h it would keep nothing more, but for longer: ${money} an hour`;
}

function SwitchOn({ id, title }: { readonly id: string; readonly title: string }) {
  const [time, setTime] = useState('1h');
  const [reason, setReason] = useState('');
  return (
    <div className="flex flex-wrap items-end gap-3">
      <Select label="For" value={time} onChange={setTime} options={times} className="w-32" />
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
    </div>
  );
}
