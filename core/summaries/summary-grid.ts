import type { SummaryValue } from './aggregate-states.ts';
import type { SummaryTable } from './summary-table.ts';

/** A group of a summary over time. */
export interface GridGroup {
  /** Its keys, between ` · `; empty where the summary has none. */
  readonly name: string;
  /** Over all times; null where parts cannot be added up, as with a median. */
  readonly total: number | null;
}

/** A row of a grid: one stretch of time. */
export interface GridRow {
  /** Start, in milliseconds. */
  readonly time: number;
  /** By group, in their order; null where there was nothing. */
  readonly cells: readonly SummaryValue[];
  /** Of the groups that have no column of their own, together; null where parts cannot be added up. */
  readonly rest: number | null;
  /** Of all groups; null where parts cannot be added up. */
  readonly total: number | null;
}

/** A summary with time down and groups across. */
export interface SummaryGrid {
  readonly rows: readonly GridRow[];
  /** The largest first, at most as many as were asked for. */
  readonly groups: readonly GridGroup[];
  /** How many groups there are besides. */
  readonly others: number;
}

/**
 * Turns a summary over time into a grid of one of its measures (the place of its column); `most` groups get a column, the
 * others are put together. Groups are ordered by what they have over all times.
 */
export function summaryGrid(table: SummaryTable, measure: number, most: number): SummaryGrid {
  const { columns, rows } = table;
  const isAdditive = columns[measure]?.additive === true;
  const byGroup = new Map<string, Map<number, SummaryValue>>();
  const times = new Set<number>();
  for (const row of rows) {
    const time = Number(row[0]);
    const name = groupKeys(table, row).join(' · ');
    const cells = byGroup.get(name) ?? new Map<number, SummaryValue>();
    byGroup.set(name, cells.set(time, row[measure] ?? null));
    times.add(time);
  }
  const weight = (cells: ReadonlyMap<number, SummaryValue>): number => {
    const numbers = [...cells.values()].filter((value) => typeof value === 'number');
    return isAdditive ? added(numbers) : Math.max(Number.NEGATIVE_INFINITY, ...numbers);
  };
  const ordered = [...byGroup].sort(([, a], [, b]) => weight(b) - weight(a));
  const shown = ordered.slice(0, most);
  const others = ordered.slice(most);
  const cellsAt = (groups: typeof ordered, time: number): readonly SummaryValue[] =>
    groups.map(([, cells]) => cells.get(time) ?? null);
  return {
    groups: shown.map(([name, cells]) => ({ name, total: isAdditive ? weight(cells) : null })),
    others: others.length,
    rows: [...times]
      .sort((a, b) => a - b)
      .map((time) => {
        const cells = cellsAt(shown, time);
        const rest = isAdditive ? added(cellsAt(others, time)) : null;
        return { time, cells, rest, total: rest === null ? null : added(cells) + rest };
      }),
  };
}

/** The keys of a row of a summary but for its time, in words; a dash for one that the events lack. */
export function groupKeys({ columns }: Pick<SummaryTable, 'columns'>, row: readonly SummaryValue[]): readonly string[] {
  return columns.flatMap(({ key, unit }, place) => (key && unit !== 'time' ? [String(row[place] ?? '–')] : []));
}

function added(values: readonly SummaryValue[]): number {
  return values.reduce<number>((sum, value) => sum + (typeof value === 'number' ? value : 0), 0);
}
