import type { Currency } from '#core/costs/book/price-book.ts';
import { formatCoins } from '#core/costs/format-coins.ts';
import { dayInWords } from '#core/costs/month/calendar.ts';
import type { BudgetView } from '#core/costs/month/cost-month.ts';
import type { CostMonthAnswer } from '../../data/answers.ts';
import { Section } from '../../kit/section.tsx';
import { percent } from '../../kit/times/times.ts';

/** The budgets of the month, each with what is spent of it and the day on which it is crossed. */
export function Budgets({ month, currency }: { readonly month: CostMonthAnswer; readonly currency: Currency }) {
  if (month.budgets.length === 0) return null;
  return (
    <Section title="Budgets this month" className="mt-6">
      <ul className="border-b border-hair">
        {month.budgets.map((budget) => (
          <li
            key={`${budget.team} ${budget.fleet} ${budget.tier}`}
            className="grid grid-cols-[minmax(110px,220px)_minmax(60px,1fr)_auto] items-center gap-4 border-t border-hair py-2"
          >
            <b className="font-[650]">{whoseOf(budget)}</b>
            <span className="h-[9px] max-w-[520px] bg-land" aria-hidden="true">
              <span
                className={`block h-full ${budget.spent >= budget.amount ? 'bg-mark' : 'bg-d5'}`}
                style={{ width: `${Math.min(100, (100 * budget.spent) / budget.amount)}%` }}
              />
            </span>
            <span className="text-[12.5px] text-second">
              {formatCoins(budget.spent, currency)} of {formatCoins(budget.amount, currency)} spent (
              {percent(budget.spent / budget.amount)}){statusCacheOf(budget, currency)}
            </span>
          </li>
        ))}
      </ul>
    </Section>
  );
}

function whoseOf({ team, fleet, tier }: BudgetView): string {
  if (team !== null) return `Team ${team}`;
  if (fleet !== null) return `Fleet ${fleet}`;
  return tier === null ? 'Everything' : `Tier ${tier}`;
}

function statusCacheOf({ spent, amount, heading, crossedOn }: BudgetView, currency: Currency): string {
  if (crossedOn !== null && spent >= amount) return `; crossed on ${dayInWords(crossedOn)}`;
  if (crossedOn !== null) return `; will be crossed on ${dayInWords(crossedOn)}`;
  return heading === null ? '' : `; heading for ${formatCoins(heading, currency)}`;
}
