'use client';

import Link from 'next/link';
import { useState } from 'react';
import { toast } from 'sonner';
import { formatCoins } from '#core/costs/format-coins.ts';
import { formatBytes } from '#core/events/units.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { isSame } from '#core/plan/merge.ts';
import { withPlanEdit } from '#core/plan/plan-edit.ts';
import type { Suggestion, SuggestionsAnswer } from '../../data/answers.ts';
import { call, refresh, useQuestion } from '../../data/client.ts';
import { useDraft } from '../../data/draft.ts';
import { shapeExclusion, withShapeExclusion } from '../../data/shape-exclusion.ts';
import { Button } from '../../kit/button.tsx';
import { Section } from '../../kit/section.tsx';
import { percent } from '../../kit/times/times.ts';
import { ShapeText } from '../explore/shapes/shape-text.tsx';
import { DecidedSuggestions } from './decide-suggestion.tsx';
import { SuggestedChange } from './suggested-change.tsx';
import { SuggestionActions } from './suggestion-actions.tsx';
import { TakenSuggestions } from './taken-suggestions.tsx';

/** Ready changes that save something, `most` of them at first, with what each saves a month; nothing where there are none. */
export function WorthDoing({ most, className = '' }: { readonly most: number; readonly className?: string }) {
  const { data } = useQuestion('suggestions', {}, 60_000);
  const [areAllShown, setAllShown] = useState(false);
  const { plan } = useDraft();
  // What was put into the draft a moment ago may stand in an answer from before.
  const suggestions = (data?.suggestions ?? []).filter((suggestion) => !isDone(suggestion, plan));
  if (!data || suggestions.length + data.changes.length + data.decided.length + data.taken.length === 0) return null;
  const { currency } = data;
  const changes = currency ? data.changes.filter(({ edit }) => !plan || !isSame(withPlanEdit(plan, edit), plan)) : [];
  // Without prices all have no coins, and stand in the order of their bytes.
  const rows = [
    ...(currency
      ? changes.map((one) => ({
          coins: one.coins,
          row: <SuggestedChange key={one.id} suggestion={one} currency={currency} />,
        }))
      : []),
    ...suggestions.map((one) => ({
      coins: one.coins,
      row: <OneSuggestion key={one.shape} suggestion={one} currency={currency} />,
    })),
  ].sort((a, b) => b.coins - a.coins);
  const coins = rows.reduce((sum, one) => sum + one.coins, 0);
  const bytes = suggestions.reduce((sum, { saved }) => sum + saved.bytes, 0);
  const all = currency ? `${formatCoins(coins, currency)} per 30 days` : `${formatBytes(bytes)} a day`;
  // A line that is excluded needs no field left out, nor a shorter retention.
  const upTo = changes.length > 0 ? 'up to ' : '';
  return (
    <Section title={`Worth doing · ${upTo}${all}`} className={className}>
      <ul>{rows.slice(0, areAllShown ? rows.length : most).map(({ row }) => row)}</ul>
      {rows.length > most && !areAllShown && (
        <Button look="quiet" className="-ml-3 text-[12.5px]" onClick={() => setAllShown(true)}>
          {rows.length - most} with smaller savings
        </Button>
      )}
      <DecidedSuggestions decided={data.decided} />
      <TakenSuggestions taken={data.taken} currency={currency} />
    </Section>
  );
}

function isDone({ shape, tiers }: Suggestion, plan: PlanDocument | undefined): boolean {
  return tiers.every((tier) => shapeExclusion(plan, tier, shape)?.keep === 'none');
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
    const excluded = { id: shape, pieces, sources };
    // First, as it is not suggested any more once the draft has it. Without the note the change is still made.
    await call('decideSuggestion', { id: shape, decision: 'take' }).catch(() => {});
    await change((before) => tiers.reduce((plan, tier) => withShapeExclusion(plan, tier, excluded, 'none'), before));
    void refresh('suggestions');
    toast('The draft excludes these lines. Rehearse and publish it.');
  };
  return (
    <li className="border-t border-hair py-2 last:border-b">
      <Link href={`/explore?view=shapes&w=-1d&shape=${shape}`} className="line block truncate hover:bg-land/40">
        <ShapeText pieces={pieces} />
      </Link>
      <SuggestionActions
        id={shape}
        reason={`${
          metrics.length > 0
            ? `counted by ${metrics.join(', ')}, searched by nobody`
            : 'no search, metric or ranking reads it'
        } · ${percent(share)} of kept bytes`}
        saving={currency ? formatCoins(coins, currency) : formatBytes(saved.bytes)}
        action="Exclude"
        onApply={() => void put()}
      />
    </li>
  );
}
