'use client';

import { useState } from 'react';
import type { Currency } from '#core/costs/book/price-book.ts';
import type { PricedAmount } from '#core/routing/volume-sums.ts';
import { switchExclusion } from '../../data/switches.ts';
import { Button } from '../../kit/button.tsx';
import { Select } from '../../kit/select.tsx';
import { type SwitchSpan, switchSpans } from './switch-spans.ts';
import { untilItsEnd } from './until-its-end.ts';

/** Temporarily keeps everything that a live exclusion matches, and shows beforehand how much that is and what it costs. */
export function ExclusionSwitch(props: {
  readonly tier: string;
  readonly exclusion: string;
  readonly title: string;
  /** What it excludes per hour. */
  readonly removed: PricedAmount;
  /** Undefined where nothing has a price. */
  readonly currency: Currency | undefined;
}) {
  const { tier, exclusion, title, removed, currency } = props;
  const [isOpen, setOpen] = useState(false);
  const [span, setSpan] = useState<SwitchSpan>('1h');
  const [reason, setReason] = useState('');
  if (!isOpen)
    return (
      <Button
        look="quiet"
        className="px-1! py-0! text-[12.5px]"
        aria-label={`Keep all of ${title} for a while`}
        onClick={() => setOpen(true)}
      >
        Keep all for a while …
      </Button>
    );
  const turnOn = async (): Promise<void> => {
    await switchExclusion(tier, exclusion, { keep: 'all', for: span, reason: reason.trim() });
    setOpen(false);
  };
  return (
    <form
      aria-label={`Keep all of ${title} for a while`}
      className="flex w-full flex-wrap items-end gap-3 bg-land/60 p-2"
      onSubmit={(event) => {
        event.preventDefault();
        void turnOn();
      }}
    >
      <Select label="For" value={span} onChange={setSpan} options={switchSpans} className="w-32" />
      <label className="min-w-40 flex-1 font-semibold text-second">
        Why
        <input
          value={reason}
          maxLength={500}
          onChange={(event) => setReason(event.target.value)}
          className="mt-1 block w-full rounded-[5px] border border-hair bg-sheet px-2.5 py-1 text-[14px] font-normal text-ink"
        />
      </label>
      <Button type="submit" look="main">
        Keep all
      </Button>
      <Button onClick={() => setOpen(false)}>Cancel</Button>
      <p className="w-full text-second">{untilItsEnd(removed, span, currency)}</p>
    </form>
  );
}
