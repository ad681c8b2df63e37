'use client';

import Link from 'next/link';
import { toast } from 'sonner';
import type { Currency } from '#core/costs/book/price-book.ts';
import { formatCoins } from '#core/costs/format-coins.ts';
import { type PlanEdit, withPlanEdit } from '#core/plan/plan-edit.ts';
import type { SuggestionsAnswer } from '../../data/answers.ts';
import { refresh } from '../../data/client.ts';
import { useDraft } from '../../data/draft.ts';
import { SuggestionActions } from './suggestion-actions.tsx';

/** A ready change of the plan, with what it saves a month. */
export function SuggestedChange(props: {
  readonly suggestion: SuggestionsAnswer['changes'][number];
  readonly currency: Currency;
}) {
  const { suggestion, currency } = props;
  const { id, title, reason, coins, band, edit } = suggestion;
  const { change } = useDraft();
  const apply = async (): Promise<void> => {
    await change((before) => withPlanEdit(before, edit));
    void refresh('suggestions');
    toast('Added to the draft. Rehearse and publish it.');
  };
  return (
    <li className="border-t border-hair py-2 last:border-b">
      <Link href={addressOf(edit)} className="block truncate hover:underline" title={title}>
        {title}
      </Link>
      <SuggestionActions
        id={id}
        reason={reason}
        saving={
          <>
            {formatCoins(coins, currency)}
            {band > 0 && <span className="font-normal text-second"> ± {formatCoins(band, currency)}</span>}
          </>
        }
        action="Add to draft"
        onApply={() => void apply()}
      />
    </li>
  );
}

/** Where what is changed can be looked at. */
function addressOf(edit: PlanEdit): string {
  if (edit.kind === 'remove-fields') return '/parsing?view=fields';
  return `/routing?tier=${encodeURIComponent(edit.tier)}`;
}
