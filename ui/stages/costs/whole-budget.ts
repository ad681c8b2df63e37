import type { BudgetView } from '#core/costs/month/cost-month.ts';
import type { CostMonthAnswer } from '../../data/answers.ts';

/** The budget that all of a month is compared with: a team's where its costs alone are shown (not empty), else that for everything. */
export function wholeBudget({ budgets }: CostMonthAnswer, team: string): BudgetView | undefined {
  return budgets.find((budget) => budget.fleet === null && budget.tier === null && budget.team === (team || null));
}
