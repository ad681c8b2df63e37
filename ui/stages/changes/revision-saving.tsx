import type { Currency } from '#core/costs/book/price-book.ts';
import { formatCoins } from '#core/costs/format-coins.ts';
import type { RevisionView } from '../../data/answers.ts';
import { SavingMonths } from '../../parts/saving-months.tsx';

/** The cost that a revision saved or added while it was live, by month beside what was promised; nothing if unknown. */
export function RevisionSaving({
  revision: { saved, promised, months },
  isLive,
  currency,
}: {
  readonly revision: RevisionView;
  readonly isLive: boolean;
  readonly currency: Currency | null;
}) {
  if (!currency || (saved === null && !promised)) return null;
  const hours = months.reduce((sum, { days }) => sum + days * 24, 0);
  return (
    <div className="mt-2 text-[12.5px]">
      {promised && (
        <p className="mb-1 text-right text-second">
          {promised.coins === 0 && 'no difference in cost promised'}
          {promised.coins !== 0 && (promised.coins > 0 ? 'to save ' : 'to cost ')}
          {promised.coins !== 0 && formatCoins(Math.abs(promised.coins), currency, true)}
          {promised.band > 0 && ` ± ${formatCoins(promised.band, currency, true)}`}
          {promised.coins < 0 && ' more'}
          {promised.coins !== 0 && ' in 30 days'}
        </p>
      )}
      {hours < 1 && <p className="text-right text-second">measured from the first hour on</p>}
      {promised && hours >= 1 && <SavingMonths label="Promised and saved" months={months} currency={currency} />}
      {saved !== null && (saved !== 0 || hours >= 1) && (
        <p
          className="mt-1 text-right"
          title="What the events that arrived while it was live cost until they expire, compared with the plan before as it was rehearsed"
        >
          {saved === 0 ? 'no difference in cost' : saved > 0 ? 'saved ' : 'cost '}
          {saved !== 0 && <b className="font-[650]">{formatCoins(Math.abs(saved), currency, true)}</b>}
          {saved < 0 && ' more'} {isLive ? 'so far' : 'while it was live'}
        </p>
      )}
    </div>
  );
}
