'use client';

import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import {
  type ColumnDef,
  columnResizingFeature,
  columnSizingFeature,
  columnVisibilityFeature,
  createSortedRowModel,
  type Row as ModelRow,
  type RowData,
  rowSortingFeature,
  type SortingState,
  tableFeatures,
  useTable,
} from '@tanstack/react-table';
import { useVirtualizer } from '@tanstack/react-virtual';
import { ArrowDown, ArrowUp, Columns3, Download } from 'lucide-react';
import { parseAsString, useQueryState } from 'nuqs';
import { type KeyboardEvent, type ReactNode, useMemo, useRef, useState } from 'react';
import { type CsvValue, writeCsv } from '#core/tables/csv.ts';
import { Figure, type FigureMeaning } from './figure.tsx';
import { saveFile } from './save-file.ts';
import { useKept } from './use-kept.ts';
import { useWidth } from './use-width.ts';

/** A column: what its cells are sorted and written out by, and how they look where that is more than a text. */
export interface Column<Row extends RowData> {
  readonly id: string;
  readonly title: string;
  /** Null for nothing; such rows come last. */
  readonly value: (row: Row) => string | number | null;
  readonly cell?: (row: Row) => ReactNode;
  /** The meaning of the figure in the cell; undefined for rows without one. */
  readonly figure?: (row: Row) => FigureMeaning | undefined;
  readonly align?: 'right';
  /** In pixels; absent: as wide as there is room. */
  readonly width?: number;
  /** Which way it is sorted by first: numbers usually the largest first. */
  readonly first?: 'ascending' | 'descending';
  /** Whether it is shown only when someone asks for it. */
  readonly hidden?: boolean;
  /** Left out where the table is narrower than this (pixels), such as beside a panel; absent: always there. */
  readonly room?: number;
  /** A picture, such as a small chart: it can be neither sorted by nor written out. */
  readonly isPicture?: boolean;
}

interface Props<Row extends RowData> {
  /** Under which chosen columns and widths are kept in this browser. */
  readonly name: string;
  /** What the table shows, for those who do not see it. */
  readonly label: string;
  readonly columns: readonly Column<Row>[];
  readonly rows: readonly Row[];
  readonly keyOf: (row: Row) => string;
  /** The column that it is sorted by at first, and which way; absent: the order of the rows. */
  readonly sorted?: { readonly by: string; readonly way: 'ascending' | 'descending' };
  /** What stands where there are no rows. */
  readonly empty?: ReactNode;
  /** Height of a row in pixels, where they are not of one line. */
  readonly rowHeight?: number;
  readonly aside?: ReactNode;
  /** For a small table beside others: nothing is chosen or written out, and its sorting is not in the address. */
  readonly isPlain?: boolean;
}

const features = tableFeatures({
  rowSortingFeature,
  columnVisibilityFeature,
  columnSizingFeature,
  columnResizingFeature,
  sortedRowModel: createSortedRowModel(),
});

type Features = typeof features;

/** From so many rows on only those that are in sight are drawn, in a list of its own height. */
const virtualFrom = 80;
const listHeight = 560;
/** By how much a key widens a column, and its bounds (pixels). */
const widthStep = 16;
const leastWidth = 48;
const mostWidth = 900;

/**
 * Rows in columns: sorted by any of them, columns chosen and widened, read by keyboard (arrows, Home, End, Enter for the first
 * thing to follow in a row; Alt with left or right on a heading changes its width), and written out as CSV. Sorting is in
 * the address, columns and widths in this browser.
 */
export function DataTable<Row extends RowData>(props: Props<Row>) {
  const { name, label, columns, sorted, empty = 'None.', rowHeight = 30, isPlain = false } = props;
  const initial = sorted ? `${sorted.way === 'descending' ? '-' : ''}${sorted.by}` : '';
  const [sort, setSort] = useSort(initial, isPlain);
  const { hidden, setHidden, widths, setWidths, model, dragOf } = useTableModel(props, sort);
  const [whole, width] = useWidth();
  const chosen = columns.filter(({ id }) => !hidden.includes(id));
  const shown = chosen.filter(({ room = 0 }) => width === 0 || room <= width);
  const { isVirtual, scroller, items, before, after, current, setCurrent, go } = useRowsInSight(
    model.length,
    rowHeight,
  );
  return (
    <div ref={whole}>
      <div className={`flex items-center justify-end gap-1 text-second ${isPlain ? 'hidden' : ''}`}>
        {props.aside && <span className="flex-1">{props.aside}</span>}
        <ColumnChoice columns={columns} hidden={hidden} onChange={setHidden} />
        <SaveButton label={label} onClick={() => saveFile(`${name}.csv`, 'text/csv', csvOf(chosen, model))} />
      </div>
      <div
        ref={scroller}
        className={isVirtual ? 'overflow-auto border-b border-hair' : 'overflow-x-auto'}
        style={isVirtual ? { maxHeight: listHeight } : undefined}
      >
        <table aria-label={label} aria-rowcount={model.length + 1} className="w-full">
          <colgroup>
            {shown.map(({ id, width }) => (
              <col key={id} style={{ width: widths[id] ?? width }} />
            ))}
          </colgroup>
          <thead className={isVirtual ? 'sticky top-0 z-10 bg-paper' : ''}>
            <tr className="border-b border-hair text-[12.5px]">
              {shown.map((column) => (
                <Heading
                  key={column.id}
                  column={column}
                  sort={sort}
                  onSort={() => setSort(nextSort(sort, column))}
                  onWidth={(by, now) => setWidths({ ...widths, [column.id]: widthWithin(now + by) })}
                  onDrag={dragOf(column.id)}
                />
              ))}
            </tr>
          </thead>
          <tbody onKeyDown={(event) => onRowKey(event, current, model.length, go)}>
            {before > 0 && <Space height={before} span={shown.length} />}
            {items.map(({ index }) => {
              const row = model[index];
              return (
                row && (
                  <BodyRow
                    key={row.id}
                    row={row.original}
                    columns={shown}
                    index={index}
                    height={rowHeight}
                    isCurrent={index === Math.min(current, model.length - 1)}
                    onFocus={() => setCurrent(index)}
                  />
                )
              );
            })}
            {after > 0 && <Space height={after} span={shown.length} />}
          </tbody>
        </table>
      </div>
      {model.length === 0 && <div className="border-b border-hair py-3 text-second">{empty}</div>}
    </div>
  );
}

function widthWithin(width: number): number {
  return Math.max(leastWidth, Math.min(mostWidth, width));
}

function SaveButton({ label, onClick }: { readonly label: string; readonly onClick: () => void }) {
  return (
    <button
      type="button"
      aria-label={`Save ${label} as CSV`}
      title="Save as CSV"
      className="rounded p-1 hover:bg-land hover:text-ink"
      onClick={onClick}
    >
      <Download size={15} aria-hidden="true" />
    </button>
  );
}

/** The rows that are drawn: all, or of many those in sight; and the one that the keyboard is on. */
function useRowsInSight(count: number, rowHeight: number) {
  const isVirtual = count >= virtualFrom;
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 12,
    enabled: isVirtual,
  });
  const [current, setCurrent] = useState(0);
  const go = (index: number): void => {
    const to = Math.max(0, Math.min(count - 1, index));
    setCurrent(to);
    if (isVirtual) virtual.scrollToIndex(to);
    // The row may have to be drawn first.
    requestAnimationFrame(() => scroller.current?.querySelector<HTMLElement>(`[data-row="${to}"]`)?.focus());
  };
  const items: readonly { readonly index: number }[] = isVirtual
    ? virtual.getVirtualItems()
    : Array.from({ length: count }, (_, index) => ({ index }));
  const [before, after] = isVirtual ? spaceAround(virtual.getVirtualItems(), virtual.getTotalSize()) : [0, 0];
  return { isVirtual, scroller, items, before, after, current, setCurrent, go };
}

/** The rows in their order, and the columns and widths that this browser keeps. */
function useTableModel<Row extends RowData>({ name, columns, rows, keyOf }: Props<Row>, sort: string) {
  const [hidden, setHidden] = useKept<readonly string[]>(
    `table ${name} hidden`,
    columns.filter((column) => column.hidden).map(({ id }) => id),
  );
  const [widths, setWidths] = useKept<Readonly<Record<string, number>>>(`table ${name} widths`, {});
  const definitions = useMemo(() => columns.map((column) => definitionOf(column)), [columns]);
  const sorting = useMemo(() => sortingOf(sort, columns), [sort, columns]);
  const data = useMemo(() => [...rows], [rows]);
  const table = useTable({
    features,
    columns: definitions,
    data,
    getRowId: keyOf,
    columnResizeMode: 'onChange',
    state: {
      sorting,
      columnVisibility: Object.fromEntries(hidden.map((id) => [id, false])),
      columnSizing: widths,
    },
    onColumnSizingChange: (update) => setWidths(typeof update === 'function' ? update(widths) : update),
  });
  const dragOf = (id: string) =>
    table
      .getFlatHeaders()
      .find(({ column }) => column.id === id)
      ?.getResizeHandler();
  return { hidden, setHidden, widths, setWidths, model: table.getRowModel().rows, dragOf };
}

/** What it is sorted by: in the address, or in this table alone. */
function useSort(initial: string, isLocal: boolean): readonly [string, (sort: string) => void] {
  const [local, setLocal] = useState(initial);
  const [inAddress, setInAddress] = useQueryState('sort', parseAsString.withDefault(initial));
  return isLocal ? [local, setLocal] : [inAddress, (sort) => void setInAddress(sort)];
}

function definitionOf<Row extends RowData>({ id, title, value, isPicture }: Column<Row>): ColumnDef<Features, Row> {
  return {
    id,
    header: title,
    accessorFn: (row) => value(row) ?? undefined,
    enableSorting: isPicture !== true,
    // Nothing comes last, whichever way it is sorted.
    sortUndefined: 'last',
    sortFn: (a, b) => compared(value(a.original), value(b.original)),
  };
}

function compared(a: string | number | null, b: string | number | null): number {
  return typeof a === 'number' && typeof b === 'number'
    ? a - b
    : String(a).localeCompare(String(b), 'en', { numeric: true });
}

/** What the address says: `-day` is the largest first by the column `day`. */
function sortingOf<Row extends RowData>(sort: string, columns: readonly Column<Row>[]): SortingState {
  const id = sort.replace(/^-/, '');
  return columns.some((column) => column.id === id) ? [{ id, desc: sort.startsWith('-') }] : [];
}

function nextSort<Row extends RowData>(sort: string, { id, first = 'ascending' }: Column<Row>): string {
  const [once, again] = first === 'descending' ? [`-${id}`, id] : [id, `-${id}`];
  return sort === once ? again : once;
}

function spaceAround(
  items: readonly { readonly start: number; readonly end: number }[],
  total: number,
): readonly [before: number, after: number] {
  const [first, last] = [items[0], items[items.length - 1]];
  return first && last ? [first.start, total - last.end] : [0, 0];
}

function csvOf<Row extends RowData>(columns: readonly Column<Row>[], rows: readonly ModelRow<Features, Row>[]): string {
  const written = columns.filter(({ isPicture }) => !isPicture);
  const values = rows.map(({ original }) => written.map(({ value }): CsvValue => value(original)));
  return writeCsv(
    written.map(({ title }) => title),
    values,
  );
}

function Heading<Row extends RowData>(props: {
  readonly column: Column<Row>;
  readonly sort: string;
  readonly onSort: () => void;
  readonly onWidth: (by: number, now: number) => void;
  readonly onDrag: ((event: unknown) => void) | undefined;
}) {
  const { id, title, align, isPicture } = props.column;
  const way = props.sort === id ? 'ascending' : props.sort === `-${id}` ? 'descending' : 'none';
  const Arrow = way === 'ascending' ? ArrowUp : ArrowDown;
  const onKey = (event: KeyboardEvent<HTMLElement>): void => {
    if (!event.altKey || (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight')) return;
    event.preventDefault();
    const now = event.currentTarget.closest('th')?.offsetWidth ?? leastWidth;
    props.onWidth(event.key === 'ArrowLeft' ? -widthStep : widthStep, now);
  };
  return (
    <th
      scope="col"
      aria-sort={isPicture ? undefined : way}
      className={`group relative pr-3 ${align === 'right' ? 'text-right' : 'text-left'}`}
    >
      {isPicture ? (
        <span className="py-1.5 font-semibold">{title}</span>
      ) : (
        <button
          type="button"
          onClick={props.onSort}
          onKeyDown={onKey}
          title="Sort; Alt with the arrow keys changes the width"
          className={`inline-flex items-center gap-0.5 py-1.5 font-semibold hover:text-ink ${way === 'none' ? '' : 'text-ink'}`}
        >
          {title}
          {way !== 'none' && <Arrow size={13} aria-hidden="true" />}
        </button>
      )}
      <span
        aria-hidden="true"
        onMouseDown={props.onDrag}
        onTouchStart={props.onDrag}
        className="absolute inset-y-1 right-0 w-1.5 cursor-col-resize border-r border-transparent group-hover:border-hair"
      />
    </th>
  );
}

function BodyRow<Row extends RowData>(props: {
  readonly row: Row;
  readonly columns: readonly Column<Row>[];
  readonly index: number;
  readonly height: number;
  readonly isCurrent: boolean;
  readonly onFocus: () => void;
}) {
  const { row, columns, index } = props;
  return (
    <tr
      tabIndex={props.isCurrent ? 0 : -1}
      data-row={index}
      aria-rowindex={index + 2}
      onFocus={props.onFocus}
      style={{ height: props.height }}
      className="border-b border-hair hover:bg-land/40 focus-visible:bg-land focus-visible:outline-none"
    >
      {columns.map((column) => (
        <td key={column.id} className={`pr-3 ${column.align === 'right' ? 'text-right whitespace-nowrap' : ''}`}>
          <CellContent column={column} row={row} />
        </td>
      ))}
    </tr>
  );
}

/** The content of a cell; a figure gets its meaning as a tooltip. */
function CellContent<Row extends RowData>({ column, row }: { readonly column: Column<Row>; readonly row: Row }) {
  const content = column.cell ? column.cell(row) : column.value(row);
  const meaning = column.figure?.(row);
  if (!meaning) return content;
  return (
    <Figure {...meaning} plain>
      {content}
    </Figure>
  );
}

/** Room of the rows that are out of sight. */
function Space({ height, span }: { readonly height: number; readonly span: number }) {
  return (
    <tr>
      <td colSpan={span} style={{ height, padding: 0 }} />
    </tr>
  );
}

const page = 12;

/** Moves among the rows; Enter follows the first link or button of a row. */
function onRowKey(event: KeyboardEvent, current: number, count: number, go: (index: number) => void): void {
  const steps: Readonly<Record<string, number>> = {
    ...{ ArrowDown: current + 1, ArrowUp: current - 1, PageDown: current + page, PageUp: current - page },
    ...{ Home: 0, End: count - 1 },
  };
  const target = event.target;
  if (!(target instanceof HTMLElement) || target.tagName !== 'TR') return;
  const to = steps[event.key];
  if (to !== undefined) {
    event.preventDefault();
    go(to);
  } else if (event.key === 'Enter') target.querySelector<HTMLElement>('a, button')?.click();
}

function ColumnChoice<Row extends RowData>(props: {
  readonly columns: readonly Column<Row>[];
  readonly hidden: readonly string[];
  readonly onChange: (hidden: readonly string[]) => void;
}) {
  const { columns, hidden, onChange } = props;
  return (
    <Popover className="relative">
      <PopoverButton aria-label="Choose columns" title="Columns" className="rounded p-1 hover:bg-land hover:text-ink">
        <Columns3 size={15} aria-hidden="true" />
      </PopoverButton>
      <PopoverPanel
        anchor="bottom end"
        className="z-20 flex w-44 flex-col rounded-[5px] border border-hair bg-sheet px-3 py-2 text-[12.5px] text-ink"
      >
        {columns.map(({ id, title }, i) => (
          <label key={id} className="flex items-center gap-2 py-0.5">
            <input
              type="checkbox"
              className="accent-mark"
              // A table without its first column would not say what its rows are.
              disabled={i === 0}
              checked={!hidden.includes(id)}
              onChange={(event) =>
                onChange(event.target.checked ? hidden.filter((other) => other !== id) : [...hidden, id])
              }
            />
            {title}
          </label>
        ))}
      </PopoverPanel>
    </Popover>
  );
}
