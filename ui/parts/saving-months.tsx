import type { Currency } from '#core/costs/book/price-book.ts';
import { formatCoins } from '#core/costs/format-coins.ts';
import { day } from '#core/events/time-units.ts';
import { formatDuration } from '#core/events/units.ts';
import type { SavingMonth } from '../data/answers.ts';

const inWords = new Intl.DateTimeFormat('en-GB', { month: 'short', year: 'numeric', timeZone: 'UTC' });

/** What a change was to save and what it saved, by calendar month. */
export function SavingMonths(props: {
  readonly label: string;
  readonly months: readonly SavingMonth[];
  readonly currency: Currency;
}) {
  const { label, months, currency } = props;
  const coins = (amount: number): string => formatCoins(amount, currency, true);
  return (
    <table className="w-full text-[12.5px]" aria-label={label}>
      <thead>
        <tr className="text-second">
          <th scope="col" className="text-left font-semibold">
            saving in
          </th>
          <th scope="col" className="text-right font-semibold">
            promised
          </th>
          <th scope="col" className="text-right font-semibold">
            measured
          </th>
        </tr>
      </thead>
      <tbody>
        {months.map(({ month, days, promised, band, saved }) => (
          <tr key={month} className="border-t border-hair last:border-b">
            <th scope="row" className="text-left font-normal">
              {inWords.format(Date.parse(`${month}-01`))}, {formatDuration((days * day) / 1000)}
            </th>
            <td className="text-right">
              {promised === null ? '–' : coins(promised)}
              {band > 0 && <span className="text-second"> ± {coins(band)}</span>}
            </td>
            <td className="text-right font-semibold">{coins(saved)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
