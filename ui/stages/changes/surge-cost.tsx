import type { Currency } from '#core/costs/book/price-book.ts';
import { formatCoins, formatCoinsChange } from '#core/costs/format-coins.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { SurgeBudget, SurgeMoney } from '#core/rehearsal/surge-money.ts';

/** What a surge costs, and what it does to the budgets of the month. */
export function SurgeCost(props: {
  readonly surge: SurgeMoney;
  readonly currency: Currency;
  readonly draft: PlanDocument;
}) {
  const { surge, currency, draft } = props;
  const change = (coins: number): string => formatCoinsChange(coins, currency).replace(' ', '\u00a0');
  const amount = (coins: number): string => formatCoins(coins, currency);
  return (
    <>
      <p className="mt-1">
        Cost until its events are deleted: now {change(surge.live)}, draft <b>{change(surge.draft)}</b>.
      </p>
      <ul aria-label="Budgets with the surge">
        {surge.budgets.map((budget) => (
          <li key={budgetName(budget, draft)} className="border-t border-hair py-1">
            {budgetName(budget, draft)}: heading for {amount(budget.heading)} of {amount(budget.amount)} this month;
            with the surge now {amount(budget.live)},{' '}
            <b className={budget.draft > budget.amount ? 'text-danger' : ''}>
              {budget.draft > budget.amount && '◆ '}draft {amount(budget.draft)}
            </b>
          </li>
        ))}
      </ul>
    </>
  );
}

function budgetName({ team, fleet, tier }: SurgeBudget, draft: PlanDocument): string {
  if (tier !== null) return `Budget of ${draft.tiers.find(({ id }) => id === tier)?.title ?? tier}`;
  const group = team ?? fleet;
  return group === null ? 'The budget' : `Budget of ${group}`;
}
