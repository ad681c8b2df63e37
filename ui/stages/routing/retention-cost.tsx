'use client';

import type { Currency } from '#core/costs/book/price-book.ts';
import type { CoinsOfCost } from '#core/costs/cost-rows.ts';
import { formatCoins } from '#core/costs/format-coins.ts';
import { dayInWords } from '#core/costs/month/calendar.ts';
import { parseDuration } from '#core/events/units.ts';
import { useQuestion } from '../../data/client.ts';

/** How often (milliseconds) it is asked again: what arrived is counted some seconds later. */
const askedEvery = 10_000;

/** What a tier costs with its retention, and with another one that is typed: both as they are once the tier is full. */
export function RetentionCost(props: { readonly tier: string; readonly keep: string; readonly before: string }) {
  const { tier, keep, before } = props;
  const duration = parseDuration(keep);
  const isRight = duration !== undefined && duration > 0;
  const { data } = useQuestion('retentionCost', { tier, keep: isRight ? keep : before }, askedEvery);
  if (!data?.currency) return null;
  const { currency, current, changed, settledOn } = data;
  if (settledOn === null)
    return <p className="text-[12.5px] text-second">The cost of its retention appears after a week of data.</p>;
  // While another one is asked for, the answer before it is still there.
  const isChanged = isRight && duration !== parseDuration(before) && data.keep === keep;
  const saved = current.whole - changed.whole;
  return (
    <div role="status" aria-label="Cost of retention" className="text-[12.5px] text-second">
      <p>
        Kept for {before}: <b className="font-[650] text-ink">{formatCoins(current.whole, currency, true)}</b> per 30
        days at last week’s volume, once the tier is full: <Parts of={current} currency={currency} />.
      </p>
      {isChanged && (
        <p>
          Kept for {keep}, from {dayInWords(settledOn)} on:{' '}
          <b className="font-[650] text-ink">{formatCoins(changed.whole, currency, true)}</b> per 30 days:{' '}
          <Parts of={changed} currency={currency} />.{' '}
          {saved === 0
            ? 'No difference.'
            : `${formatCoins(Math.abs(saved), currency, true)} ${saved > 0 ? 'less' : 'more'}.`}
        </p>
      )}
    </div>
  );
}

function Parts(props: { readonly of: CoinsOfCost; readonly currency: Currency }) {
  const { received, kept, stored } = props.of;
  const amount = (coins: number): string => formatCoins(coins, props.currency, true);
  return `${amount(received + kept)} for intake, ${amount(stored)} for storage`;
}
