'use client';

import Link from 'next/link';
import { parseAsBoolean, parseAsStringLiteral, useQueryState } from 'nuqs';
import { useMemo } from 'react';
import { equals } from '#core/conditions/write.ts';
import type { Currency } from '#core/costs/book/price-book.ts';
import { type CostKey, costKeys } from '#core/costs/cost-keys.ts';
import { formatCoins, formatCoinsChange } from '#core/costs/format-coins.ts';
import { dayOf, textOfDay } from '#core/costs/month/calendar.ts';
import type { CostMonthAnswer, CostsAnswer } from '../../data/answers.ts';
import { useQuestion } from '../../data/client.ts';
import { whyIn } from '../../data/why-address.ts';
import { Choice } from '../../kit/choice.tsx';
import { type Column, DataTable } from '../../kit/data-table.tsx';
import { Problem, Section } from '../../kit/section.tsx';
import { Select } from '../../kit/select.tsx';
import { percent } from '../../kit/times/times.ts';
import { type CostWindow, costWindows, windowBefore, windowOf } from './cost-window.ts';

type CostRow = CostsAnswer['rows'][number];

/** A row, with what it cost in the window beside, in coins; undefined where there is none. */
interface Row extends CostRow {
  readonly before: number | undefined;
}

/** What a window is for, by one of several keys, beside what was before it. */
export function CostTable(props: {
  readonly month: CostMonthAnswer;
  readonly currency: Currency;
  /** Whose costs alone; empty for all. */
  readonly team: string;
}) {
  const { month, currency, team } = props;
  const [by, setBy] = useQueryState('by', parseAsStringLiteral(costKeys).withDefault('source'));
  const [of, setWindow] = useQueryState('of', parseAsStringLiteral(costWindows).withDefault('month'));
  const [isBeside, setBeside] = useQueryState('beside', parseAsBoolean.withDefault(false));
  const now = Date.now();
  const window = windowOf(of, month, now);
  const before = windowBefore(of, month, now);
  const given = ({ from, to }: CostWindow) => ({ from, to, by, ...(team && { team }) });
  const { data: last, error } = useQuestion('costs', given(window), 30_000);
  const { data: lastEarlier } = useQuestion('costs', isBeside ? given(before) : null, 300_000);
  // The previous answer is kept until the next one arrives; its rows belong to other keys.
  const data = last && isAbout(last, by, window) ? last : undefined;
  const earlier = lastEarlier && isAbout(lastEarlier, by, before) ? lastEarlier : undefined;
  const rows = useMemo(() => rowsOf(data, isBeside ? earlier : undefined), [data, earlier, isBeside]);
  const over = useWindow(window);
  const besideOver = useWindow(before);
  const columns = useMemo(
    () => columnsOf({ by, currency, data, rows, team, over, beside: isBeside ? besideOver : undefined }),
    [by, currency, data, rows, team, over, isBeside, besideOver],
  );
  return (
    <Section
      title={`Costs of ${window.title}`}
      className="mt-6"
      aside={
        <Choice
          label="Group by"
          value={by}
          onChange={(key) => void setBy(key)}
          options={costKeys.map((key) => ({ value: key, title: key }))}
        />
      }
    >
      <div className="flex items-center gap-5">
        <Select
          label="Window"
          isLabelHidden
          value={of}
          onChange={(value) => void setWindow(value)}
          options={costWindows.map((value) => ({ value, title: windowOf(value, month, now).title }))}
        />
        <label className="flex items-center gap-1.5 text-[12.5px]">
          <input
            type="checkbox"
            className="size-4 accent-mark"
            checked={isBeside}
            onChange={(event) => void setBeside(event.target.checked || null)}
          />
          beside {before.title}
        </label>
      </div>
      {error && <Problem>{error.message}</Problem>}
      <DataTable
        name="costs"
        label={`Costs of ${window.title}`}
        columns={columns}
        rows={rows}
        keyOf={({ keys }) => keys.join(' ')}
        sorted={{ by: 'whole', way: 'descending' }}
        empty={data ? 'No costs in this window.' : 'Loading …'}
      />
      {data && data.rows.length > 0 && (
        <p className="mt-1 text-right text-[12.5px] text-second">
          {formatCoins(data.all.received, currency, true)} received + {formatCoins(data.all.kept, currency, true)}{' '}
          events kept + {formatCoins(data.all.stored, currency, true)} stored
          {data.all.series > 0 && ` + ${formatCoins(data.all.series, currency, true)} metric series`} ={' '}
          <b className="font-[650] text-ink">{formatCoins(data.all.whole, currency, true)}</b>
          {isBeside && earlier?.currency && `; ${formatCoins(earlier.all.whole, currency, true)} in ${before.title}`}
        </p>
      )}
    </Section>
  );
}

/** The same object as long as the window is the same. */
function useWindow({ from, to, title }: CostWindow): CostWindow {
  return useMemo(() => ({ from, to, title }), [from, to, title]);
}

function isAbout(answer: CostsAnswer, by: CostKey, { from }: CostWindow): boolean {
  return answer.by === by && textOfDay(dayOf(answer.from)) === from;
}

/** The rows of a window with what each was in the one beside; what was only there is below. */
function rowsOf(data: CostsAnswer | undefined, earlier: CostsAnswer | undefined): readonly Row[] {
  if (!data) return [];
  const before = new Map(earlier?.rows.map((row) => [JSON.stringify(row.keys), row]));
  const rows = data.rows.map((row): Row => {
    const known = before.get(JSON.stringify(row.keys));
    before.delete(JSON.stringify(row.keys));
    return { ...row, before: earlier ? (known?.whole ?? 0) : undefined };
  });
  const gone = [...before.values()].map((row): Row => ({ ...row, ...nothing, before: row.whole }));
  return [...rows, ...gone];
}

const nothing = { received: 0, kept: 0, stored: 0, series: 0, whole: 0, steps: [] };

const withoutName: Readonly<Record<CostKey, string>> = {
  source: 'metric series',
  team: 'without an owner',
  fleet: 'in no fleet',
  tier: 'in no tier',
  outcome: 'metric series',
  severity: 'without a severity',
  shape: 'without a shape',
  field: 'lines and event counts',
};

/** What a row is about: a shape by one of its lines. */
function CostName({ row: { keys, line }, by }: { readonly row: Row; readonly by: CostKey }) {
  const [key] = keys;
  if (key === undefined) return 'the rest';
  if (key === '') return withoutName[by];
  if (by !== 'shape' || line === '') return key;
  return (
    <Link
      href={`/explore?view=shapes&w=-1d&shape=${key}`}
      className="block max-w-[360px] truncate font-mono text-[12.5px]"
      title={line}
    >
      {line}
    </Link>
  );
}

const partNames = ['received', 'kept', 'stored', 'series'] as const;

const partTitles = { received: 'received', kept: 'events kept', stored: 'stored', series: 'series' };

function columnsOf(of: {
  readonly by: CostKey;
  readonly currency: Currency;
  readonly data: CostsAnswer | undefined;
  readonly rows: readonly Row[];
  readonly team: string;
  readonly over: CostWindow;
  /** The window it is compared with. */
  readonly beside: CostWindow | undefined;
}): readonly Column<Row>[] {
  const { by, currency, data, rows, team, over, beside } = of;
  const largest = Math.max(1, ...rows.map(({ whole }) => whole));
  const parts = partNames.filter((part) => beside === undefined && (part !== 'series' || (data?.all.series ?? 0) > 0));
  return [
    {
      id: 'key',
      title: by,
      width: 300,
      value: ({ keys: [key = 'the rest'], line }) => line || key,
      cell: (row) => <CostName row={row} by={by} />,
    },
    {
      id: 'bar',
      title: 'share',
      isPicture: true,
      value: () => null,
      cell: ({ whole }) => (
        <span className="flex items-center gap-2">
          <span className="h-[11px] bg-d5" style={{ width: `${(200 * Math.max(0, whole)) / largest}px` }} />
          <span className="whitespace-nowrap text-[12.5px] text-second">
            {percent(data && data.all.whole > 0 ? whole / data.all.whole : 0)}
          </span>
        </span>
      ),
    },
    ...parts.map((part) => moneyColumn(part, partTitles[part], currency, (row) => row[part])),
    {
      ...moneyColumn('whole', 'total', currency, ({ whole }) => whole),
      cell: ({ whole }) => <b className="font-[650]">{formatCoins(whole, currency, true)}</b>,
      figure: ({ keys: [key = ''], whole: value }) =>
        key === '' || team !== ''
          ? undefined
          : { name: 'cost', of: `${by} ${key}`, over: over.title, unit: currency.sign, value },
    },
    ...(beside === undefined
      ? []
      : [
          moneyColumn('before', beside.title, currency, ({ before = 0 }) => before),
          {
            ...moneyColumn('change', 'change', currency, ({ whole, before = 0 }) => whole - before),
            cell: ({ whole, before = 0 }: Row) => formatCoinsChange(whole - before, currency, true),
          },
        ]),
    ...(isField(by)
      ? [
          {
            ...{ id: 'why', title: 'why', isPicture: true as const, width: 60 },
            value: () => null,
            cell: ({ keys: [key = ''] }: Row) =>
              key !== '' && (
                <Link
                  href={whyIn(equals(by, key), 'cost', textOf(over), beside && textOf(beside))}
                  aria-label={`Why ${key} costs this much`}
                  className="text-[12.5px] text-mark hover:underline"
                >
                  Why
                </Link>
              ),
          },
        ]
      : []),
  ];
}

/** Keys that are fields of events, so that a condition can name their values. */
function isField(by: CostKey): boolean {
  return by === 'source' || by === 'tier' || by === 'severity' || by === 'shape';
}

function textOf({ from, to }: CostWindow): string {
  return `${from}..${to}`;
}

function moneyColumn(id: string, title: string, currency: Currency, coinsOf: (row: Row) => number): Column<Row> {
  return {
    ...{ id, title, align: 'right', width: 130, first: 'descending' },
    value: (row) => coinsOf(row) / 10 ** currency.digits,
    cell: (row) => formatCoins(coinsOf(row), currency, true),
  };
}
