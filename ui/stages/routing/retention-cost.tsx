'use client';

import type { CoinsOfCost, RetentionCostAnswer } from '#core/answers/costs.ts';
import { dayInWords } from '#core/costs/calendar.ts';
import { formatCoins } from '#core/costs/format-coins.ts';
import type { Currency } from '#core/costs/price-book.ts';
import { parseDuration } from '#core/events/units.ts';
import { useApi } from '../../data/use-api.ts';

/** What a tier costs as it is, and, where another retention is typed, what it comes to once that has settled. */
export function RetentionCost(props: { readonly tier: string; readonly keep: string; readonly before: string }) {
  const { tier, keep, before } = props;
  const duration = parseDuration(keep);
  const isRight = duration !== undefined && duration > 0;
  const asked = new URLSearchParams({ tier, keep: isRight ? keep : before });
  const { data } = useApi<RetentionCostAnswer>(`/api/costs/retention?${asked}`);
  if (!data?.currency) return null;
  const { currency, now, settled, settledOn } = data;
  if (settledOn === null)
    return <p className="text-[12.5px] text-second">What it costs is told once a week of what it keeps is known.</p>;
  // While another one is asked for, the answer before it still stands there.
  const isChanged = isRight && duration !== parseDuration(before) && data.keep === keep;
  const saved = now.whole - settled.whole;
  return (
    <div role="status" aria-label="What it costs" className="text-[12.5px] text-second">
      <p>
        Costs <b className="font-[650] text-ink">{formatCoins(now.whole, currency, true)}</b> in 30 days as the last
        week was: <Parts of={now} currency={currency} />
      </p>
      {isChanged && (
        <p>
          With {keep}, settled on {dayInWords(settledOn)}:{' '}
          <b className="font-[650] text-ink">{formatCoins(settled.whole, currency, true)}</b>,{' '}
          <Parts of={settled} currency={currency} />.{' '}
          {saved === 0
            ? 'The same.'
            : `${formatCoins(Math.abs(saved), currency, true)} ${saved > 0 ? 'less' : 'more'}.`}
        </p>
      )}
    </div>
  );
}

function Parts(props: { readonly of: CoinsOfCost; readonly currency: Currency }) {
  const { received, kept, stored } = props.of;
  const told = (coins: number): string => formatCoins(coins, props.currency, true);
  return `${told(received + kept)} for what comes in, ${told(stored)} for what lies there`;
}
