'use client';

import Link from 'next/link';
import { parseAsStringLiteral, useQueryState } from 'nuqs';
import { useMemo } from 'react';
import type { CostMonthAnswer, CostsAnswer } from '#core/answers/costs.ts';
import { type CostKey, costKeys } from '#core/costs/cost-keys.ts';
import { formatCoins } from '#core/costs/format-coins.ts';
import type { Currency } from '#core/costs/price-book.ts';
import { useApi } from '../../data/use-api.ts';
import { Choice } from '../../kit/choice.tsx';
import { type Column, DataTable } from '../../kit/data-table.tsx';
import { Problem, Section } from '../../kit/section.tsx';
import { percent } from '../../kit/times.ts';

type Row = CostsAnswer['rows'][number];

/** What the month so far is for, by one of several keys. */
export function CostTable({ month, currency }: { readonly month: CostMonthAnswer; readonly currency: Currency }) {
  const [by, setBy] = useQueryState('by', parseAsStringLiteral(costKeys).withDefault('source'));
  const from = new Date(month.from).toISOString().slice(0, 10);
  const { data, error } = useApi<CostsAnswer>(`/api/costs?from=${from}&by=${by}`, 30_000);
  const columns = useMemo(() => columnsOf(by, currency, data), [by, currency, data]);
  return (
    <Section
      title="What it is for · the month so far"
      className="mt-6"
      aside={
        <Choice
          label="What it is told by"
          value={by}
          onChange={(key) => void setBy(key)}
          options={costKeys.map((key) => ({ value: key, title: key }))}
        />
      }
    >
      {error && <Problem>{error.message}</Problem>}
      <DataTable
        name="costs"
        label="Costs of the month so far"
        columns={columns}
        rows={data?.rows ?? []}
        keyOf={({ keys }) => keys.join(' ')}
        sorted={{ by: 'whole', way: 'descending' }}
        empty={data ? 'Nothing came that costs anything.' : ''}
      />
      {data && data.rows.length > 0 && (
        <p className="mt-1 text-right text-[12.5px] text-second">
          {formatCoins(data.all.received, currency, true)} received + {formatCoins(data.all.kept, currency, true)}{' '}
          events kept + {formatCoins(data.all.stored, currency, true)} stored ={' '}
          <b className="font-[650] text-ink">{formatCoins(data.all.whole, currency, true)}</b>
        </p>
      )}
    </Section>
  );
}

const withoutName: Readonly<Record<CostKey, string>> = {
  source: 'no source',
  team: 'without an owner',
  tier: 'in no tier',
  outcome: 'nothing',
  severity: 'without a severity',
  shape: 'without a shape',
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

function columnsOf(by: CostKey, currency: Currency, data: CostsAnswer | undefined): readonly Column<Row>[] {
  const largest = Math.max(1, ...(data?.rows ?? []).map(({ whole }) => whole));
  const money = (id: 'received' | 'kept' | 'stored', title: string): Column<Row> => ({
    id,
    title,
    align: 'right',
    width: 130,
    first: 'descending',
    value: (row) => row[id] / 10 ** currency.digits,
    cell: (row) => formatCoins(row[id], currency, true),
  });
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
      title: 'share of the month',
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
    money('received', 'received'),
    money('kept', 'events kept'),
    money('stored', 'stored'),
    {
      id: 'whole',
      title: 'in all',
      align: 'right',
      width: 120,
      first: 'descending',
      value: ({ whole }) => whole / 10 ** currency.digits,
      cell: ({ whole }) => <b className="font-[650]">{formatCoins(whole, currency, true)}</b>,
    },
  ];
}
