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
      {promised && <p className="mb-1 text-right text-second">{promiseInWords(promised, currency)}</p>}
      {isLive && hours < 1 && <p className="text-right text-second">measured from the first hour on</p>}
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

/** What a rehearsal promised, in words. */
function promiseInWords({ coins, band }: NonNullable<RevisionView['promised']>, currency: Currency): string {
  const amount = (value: number): string => formatCoins(value, currency, true);
  const width = band > 0 ? ` ± ${amount(band)}` : '';
  if (coins === 0) return `no difference in cost promised${width}`;
  return coins > 0
    ? `to save ${amount(coins)}${width} in 30 days`
    : `to cost ${amount(-coins)}${width} more in 30 days`;
}
