'use client';

import Link from 'next/link';
import { useState } from 'react';
import { toast } from 'sonner';
import type { Currency } from '#core/costs/book/price-book.ts';
import { formatCoins } from '#core/costs/format-coins.ts';
import { withPlanEdit } from '#core/plan/plan-edit.ts';
import type { SuggestionsAnswer } from '../../data/answers.ts';
import { refresh } from '../../data/client.ts';
import { useDraft } from '../../data/draft.ts';
import { Button } from '../../kit/button.tsx';
import { DecideSuggestion } from './decide-suggestion.tsx';

/** A ready change of a tier, with what it saves a month. */
export function SuggestedChange(props: {
  readonly suggestion: SuggestionsAnswer['changes'][number];
  readonly currency: Currency;
}) {
  const { suggestion, currency } = props;
  const { id, title, reason, coins, band, edit } = suggestion;
  const { change } = useDraft();
  const [isDeciding, setDeciding] = useState(false);
  const apply = async (): Promise<void> => {
    await change((before) => withPlanEdit(before, edit));
    void refresh('suggestions');
    toast('Added to the draft. Rehearse and publish it.');
  };
  return (
    <li className="border-t border-hair py-2 last:border-b">
      <Link
        href={`/routing?tier=${encodeURIComponent(edit.tier)}`}
        className="block truncate hover:underline"
        title={title}
      >
        {title}
      </Link>
      <div className="flex flex-wrap items-baseline gap-x-3">
        <small className="basis-full text-[12px] leading-4 text-second">{reason}</small>
        <b className="flex-1 font-semibold whitespace-nowrap">
          − {formatCoins(coins, currency)}
          {band > 0 && <span className="font-normal text-second"> ± {formatCoins(band, currency)}</span>}
        </b>
        <Button look="quiet" className="-mr-3 whitespace-nowrap text-[12.5px]" onClick={() => void apply()}>
          Add to draft
        </Button>
        <Button
          look="quiet"
          className="-mr-3 whitespace-nowrap text-[12.5px]"
          aria-expanded={isDeciding}
          onClick={() => setDeciding(!isDeciding)}
        >
          Not now …
        </Button>
      </div>
      {isDeciding && <DecideSuggestion id={id} onDone={() => setDeciding(false)} />}
    </li>
  );
}
