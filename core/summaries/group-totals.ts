import type { SummaryValue } from './aggregate-states.ts';
import type { SummaryTable } from './summary-table.ts';

/**
 * What the groups of a summary have in all in one of its measures (the place of its column), by a key of their rows: added
 * up, or the most that it was where parts cannot be added up. Rows without a key or without a number are left out.
 */
export function groupTotals(
  { columns, rows }: SummaryTable,
  measure: number,
  keyOf: (row: readonly SummaryValue[]) => string | undefined,
): ReadonlyMap<string, number> {
  const isAdditive = columns[measure]?.additive === true;
  const totals = new Map<string, number>();
  for (const row of rows) {
    const key = keyOf(row);
    const value = row[measure];
    if (key === undefined || typeof value !== 'number') continue;
    const before = totals.get(key);
    if (before === undefined) totals.set(key, value);
    else totals.set(key, isAdditive ? before + value : Math.max(before, value));
  }
  return totals;
}
