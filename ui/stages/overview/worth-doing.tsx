'use client';

import Link from 'next/link';
import { toast } from 'sonner';
import type { SuggestionsAnswer } from '#core/answers/suggestions.ts';
import { formatCoins } from '#core/costs/format-coins.ts';
import { formatBytes } from '#core/events/units.ts';
import type { Suggestion } from '#core/suggestions/suggest.ts';
import { useDraft } from '../../data/draft.ts';
import { useApi } from '../../data/use-api.ts';
import { withKeep } from '../../data/with-keep.ts';
import { Button } from '../../kit/button.tsx';
import { Section } from '../../kit/section.tsx';
import { percent } from '../../kit/times.ts';
import { keepOfShape, ShapeText } from '../explore/shapes/shape-text.tsx';

/** Suggestions that are shown. */
const mostShown = 5;

/** Ready changes that save something, with what each saves a month; nothing where there are none. */
export function WorthDoing({ className = '' }: { readonly className?: string }) {
  const { data } = useApi<SuggestionsAnswer>('/api/suggestions', 60_000);
  if (!data || data.suggestions.length === 0) return null;
  const { suggestions, currency } = data;
  const coins = suggestions.reduce((sum, suggestion) => sum + suggestion.coins, 0);
  const bytes = suggestions.reduce((sum, { saved }) => sum + saved.bytes, 0);
  const all = currency ? `${formatCoins(coins, currency)} a month` : `${formatBytes(bytes)} a day`;
  return (
    <Section title={`Worth doing · ${all}`} className={className}>
      <ul>
        {suggestions.slice(0, mostShown).map((suggestion) => (
          <OneSuggestion key={suggestion.shape} suggestion={suggestion} currency={currency} />
        ))}
      </ul>
      {suggestions.length > mostShown && (
        <p className="pt-1.5 text-[12.5px] text-second">and {suggestions.length - mostShown} that save less</p>
      )}
    </Section>
  );
}

function OneSuggestion({
  suggestion: { shape, pieces, sources, tiers, saved, share, coins, metrics },
  currency,
}: {
  readonly suggestion: Suggestion;
  readonly currency: SuggestionsAnswer['currency'];
}) {
  const { change } = useDraft();
  const put = async (): Promise<void> => {
    const keep = keepOfShape({ id: shape, pieces, sources }, 'none');
    await change((before) => tiers.reduce((plan, tier) => withKeep(plan, tier, keep), before));
    toast('None of these lines are kept in the draft. Rehearse and publish it.');
  };
  return (
    <li className="grid grid-cols-[minmax(0,1fr)_auto] gap-x-3 border-t border-hair py-2 last:border-b">
      <Link href={`/explore?view=shapes&w=-1d&shape=${shape}`} className="min-w-0 hover:bg-land/40">
        <span className="line block truncate">
          <ShapeText pieces={pieces} />
        </span>
        <small className="block text-[12px] leading-4 text-second">
          only ever counted, by {metrics.join(', ')} · {percent(share)} of what is kept
        </small>
      </Link>
      <b className="text-right font-semibold whitespace-nowrap">
        {currency ? `− ${formatCoins(coins, currency)}` : `− ${formatBytes(saved.bytes)}`}
        <Button look="quiet" className="-mr-3 block text-[12.5px]" onClick={() => void put()}>
          Keep none
        </Button>
      </b>
    </li>
  );
}
